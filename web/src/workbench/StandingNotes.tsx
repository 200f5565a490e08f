import type { Tether } from '@tether/contract';
import { Moment } from '../ui/Moment.tsx';

/** What is to be known about an object's standing beside its name: why it waits, who left it, where it is pinned. */
export function StandingNotes({ tether }: { tether: Tether }) {
  const { waits, left, pinnedTo, frozen } = tether;
  return (
    <>
      {waits && (
        <p className="mt-1">
          <span className="font-semibold">Waits for somebody:</span> {waits.message}{' '}
          <span className="text-muted">{waits.hint}</span>
        </p>
      )}
      {left && (
        <p className="mt-1 text-muted">
          Left {left.by && `by ${left.by} `}
          <Moment at={left.at} />, until the source changes again.
        </p>
      )}
      {pinnedTo && (
        <p className="mt-1">
          <span className="font-semibold">Behind on purpose:</span> it shows its state of{' '}
          <Moment at={pinnedTo} /> until somebody refreshes it.
        </p>
      )}
      {frozen && (
        <p className="mt-1 text-muted">
          Frozen {frozen.by && `by ${frozen.by} `}
          <Moment at={frozen.at} />: it keeps what it shows.
        </p>
      )}
    </>
  );
}
