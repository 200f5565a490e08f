import type { StandingName } from '@tether/core';

/** The glyph of a standing: full disc, half disc, pen stroke, two facing wedges, skewed square, broken ring, hexagon. The word always stands beside it or in its label. */
export function StandingGlyph({ standing, size = 12 }: { standing: StandingName; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 12 12" aria-hidden="true" className="shrink-0">
      {GLYPHS[standing]}
    </svg>
  );
}

const GLYPHS: Record<StandingName, React.ReactNode> = {
  'in step': <circle cx="6" cy="6" r="5" fill="var(--color-in-step)" />,
  behind: (
    <>
      <circle cx="6" cy="6" r="4.5" fill="#fff" stroke="var(--color-behind)" />
      <path d="M6 1a5 5 0 0 0 0 10Z" fill="var(--color-behind)" />
    </>
  ),
  'edited here': (
    <path
      d="M1.5 10.5 2.4 7.6 8.6 1.4 10.6 3.4 4.4 9.6Z"
      fill="none"
      stroke="var(--color-edited)"
      strokeWidth="1.5"
      strokeLinejoin="round"
    />
  ),
  contested: (
    <>
      <path d="M0.6 1.6 5.4 6 0.6 10.4Z" fill="var(--color-contested)" />
      <path d="M11.4 1.6 6.6 6 11.4 10.4Z" fill="var(--color-contested)" />
    </>
  ),
  reshaped: <path d="M3.6 1.4H11.4L8.4 10.6H0.6Z" fill="var(--color-reshaped)" />,
  frozen: <path d="M6 0.8 10.5 3.4V8.6L6 11.2 1.5 8.6V3.4Z" fill="var(--color-frozen)" />,
  adrift: (
    <circle
      cx="6"
      cy="6"
      r="4.3"
      fill="none"
      stroke="var(--color-adrift)"
      strokeWidth="1.9"
      strokeDasharray="6.6 2.4"
      transform="rotate(-30 6 6)"
    />
  ),
};
