import { STANDINGS, type StandingName } from '@tether/core';
import { StandingGlyph } from './StandingGlyph.tsx';

const COLOURS: Record<StandingName, string> = {
  'in step': 'bg-in-step',
  behind: 'bg-behind',
  'edited here': 'bg-edited',
  contested: 'bg-contested',
  reshaped: 'bg-reshaped',
  adrift: 'bg-adrift',
  frozen: 'bg-frozen',
};

/** How many objects have each standing: a bar in their proportions, and the counts in words. */
export function StandingBar({ counts }: { counts: Partial<Record<string, number>> }) {
  const parts = STANDINGS.map((name) => ({ name, count: counts[name] ?? 0 })).filter(
    ({ count }) => count > 0,
  );
  if (parts.length === 0) return <span className="text-muted">No objects placed yet</span>;
  return (
    <span className="flex items-center gap-3">
      <span aria-hidden className="flex h-1.5 w-24 gap-px overflow-hidden rounded-full">
        {parts.map(({ name, count }) => (
          <span key={name} className={COLOURS[name]} style={{ flexGrow: count }} />
        ))}
      </span>
      {parts.map(({ name, count }) => (
        <span key={name} className="flex items-center gap-1 whitespace-nowrap">
          <StandingGlyph standing={name} />
          {count} {name}
        </span>
      ))}
    </span>
  );
}
