import type { Tether } from '@tether/contract';
import { StandingGlyph } from '../../ui/StandingGlyph.tsx';
import { standingWords } from '../../ui/standing-words.ts';

/** Where a cleat stands, and whether it has its words. */
const PLACES = {
  /** Beside an object in a text: it covers nothing. */
  beside:
    'absolute top-0 left-full ml-2 flex h-6 w-max items-center gap-1 border-hairline bg-white px-1.5 whitespace-nowrap',
  /** Outside the corner of an object on a page, where things stand close. */
  corner:
    'absolute bottom-full left-full grid size-6 place-items-center border-transparent hover:bg-white',
  /** Behind a value on a page. */
  behind:
    'absolute bottom-0 left-full grid size-6 place-items-center border-transparent hover:bg-white',
  /** Over the line behind a value in it: it takes no room, so that lines break where they break in print. */
  line: 'relative -top-1.5 -ml-2 inline-block w-2 border-transparent align-super leading-none',
};

/** The mark at an object's corner: carries its standing and opens its panel. */
export function Cleat(props: { tether: Tether; onClick: () => void; place?: keyof typeof PLACES }) {
  const { tether, onClick, place = 'beside' } = props;
  const words = standingWords(tether);
  return (
    <button
      type="button"
      contentEditable={false}
      onClick={onClick}
      title={place === 'beside' ? undefined : words}
      aria-label={`${tether.name}: ${words}. Show its panel`}
      className={`cleat rounded-box border font-sans text-[12px] leading-4 text-ink hover:border-deep ${PLACES[place]}`}
    >
      <StandingGlyph standing={tether.standing} {...(place === 'line' ? { size: 7 } : {})} />
      {place === 'beside' && words}
    </button>
  );
}
