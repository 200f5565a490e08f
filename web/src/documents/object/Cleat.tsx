import type { Tether } from '@tether/contract';
import { StandingGlyph } from '../../ui/StandingGlyph.tsx';
import { standingWords } from '../../ui/standing-words.ts';

/**
 * The mark at an object's corner: carries its standing and opens its panel. In a text it stands beside the object, with its
 * words, so that it covers nothing; on a page, where things stand close, it is the glyph alone, outside the corner.
 */
export function Cleat(props: { tether: Tether; onClick: () => void; isSmall?: boolean }) {
  const { tether, onClick, isSmall = false } = props;
  const place = isSmall
    ? 'bottom-full left-full grid size-6 place-items-center border-transparent hover:bg-white'
    : 'top-0 left-full ml-2 flex h-6 w-max items-center gap-1 border-hairline bg-white px-1.5 whitespace-nowrap';
  return (
    <button
      type="button"
      contentEditable={false}
      onClick={onClick}
      title={isSmall ? standingWords(tether) : undefined}
      aria-label={`${tether.name}: ${standingWords(tether)}. Show its panel`}
      className={`cleat absolute rounded-box border font-sans text-[12px] leading-4 text-ink hover:border-deep ${place}`}
    >
      <StandingGlyph standing={tether.standing} />
      {!isSmall && standingWords(tether)}
    </button>
  );
}
