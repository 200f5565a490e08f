import { fontSizeFor, PIXELS_PER_MM } from '@tether/core';
import { type AnyPage, DECK_LOOKS, SLIDE_MARGIN } from '@tether/documents';
import { CAPITALS } from '../page/drawn/page-letters.ts';
import type { PageSurface } from '../page/surface/page-surface.ts';
import { deckOf } from './slides-kind.ts';

/** Height of the capitals at the foot of slides; millimetres. */
const FOOT_LETTERS = 2.2;

/** The line at the foot of a slide and its number; the first slide has neither. */
export function slideGround(surface: PageSurface, page: AnyPage) {
  const { foot, hasNumbers, deckLook } = deckOf(surface.pages.settings());
  const nth = surface.pages.pages().findIndex(({ id }) => id === page.id) + 1;
  const { width, height } = surface.shown.size(page);
  if (nth <= 1 || (foot === '' && !hasNumbers)) return null;
  const { words, ink } = DECK_LOOKS[deckLook];
  const letters = { fontFamily: words, fontSize: fontSizeFor(FOOT_LETTERS, CAPITALS), fill: ink };
  return (
    <svg
      aria-hidden
      className="pointer-events-none absolute top-0 left-0"
      width={width * PIXELS_PER_MM}
      height={height * PIXELS_PER_MM}
      viewBox={`0 0 ${width} ${height}`}
    >
      <text {...letters} x={SLIDE_MARGIN} y={height - 6} fillOpacity={0.8}>
        {foot}
      </text>
      {hasNumbers && (
        <text {...letters} x={width - SLIDE_MARGIN} y={height - 6} textAnchor="end">
          {nth}
        </text>
      )}
    </svg>
  );
}
