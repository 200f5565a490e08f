import type { Tether } from '@tether/contract';
import { StandingGlyph } from '../../ui/StandingGlyph.tsx';
import { standingWords } from '../../ui/standing-words.ts';

/** The mark at an object's corner, beside it so that it covers nothing: carries its standing and opens its panel. */
export function Cleat({ tether, onClick }: { tether: Tether; onClick: () => void }) {
  return (
    <button
      type="button"
      contentEditable={false}
      onClick={onClick}
      aria-label={`${tether.name}: ${standingWords(tether)}. Show its panel`}
      className="cleat absolute top-0 left-full ml-2 flex h-6 w-max items-center gap-1 rounded-box border border-hairline bg-white px-1.5 font-sans text-[12px] leading-4 whitespace-nowrap text-ink hover:border-deep"
    >
      <StandingGlyph standing={tether.standing} />
      {standingWords(tether)}
    </button>
  );
}
