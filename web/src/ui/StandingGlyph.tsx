import type { StandingName } from '@tether/core';

/** The glyph of a standing: full disc, half disc, broken ring, hexagon. The word always stands beside it or in its label. */
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
