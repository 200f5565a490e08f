import type { Tether } from '@tether/contract';
import { faultOf, useFollowAgainMutation } from '../state/api.ts';
import { useMayChange } from '../state/useMayChange.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { ExactMoment, Moment } from '../ui/Moment.tsx';

/** What is to be known about an object's standing beside its name: why it waits, who left it, where it is pinned. */
export function StandingNotes({ tether }: { tether: Tether }) {
  const { standing, waits, left, pinnedTo, frozen } = tether;
  const { isAllowed, whyNot } = useMayChange();
  const [follow, { isLoading, error }] = useFollowAgainMutation();
  return (
    <>
      {waits && (
        <p className="mt-1">
          <span className="font-semibold">Waiting for a decision:</span> {waits.message}{' '}
          <span className="text-muted">{waits.hint}</span>
        </p>
      )}
      {left && (
        <p className="mt-1 text-muted">
          Left {left.by && `by ${left.by} `}
          <ExactMoment at={left.at} />, until the source holds something else.
        </p>
      )}
      {pinnedTo && (
        <p className="mt-1">
          <span className="font-semibold">
            {standing === 'behind' ? 'Behind on purpose:' : 'Kept on purpose:'}
          </span>{' '}
          it shows its state of <ExactMoment at={pinnedTo} />, whatever its source holds, until
          somebody refreshes it.
        </p>
      )}
      {(left || pinnedTo) && (
        <Button
          className="mt-1"
          disabled={!isAllowed || isLoading}
          title={whyNot}
          onClick={() => void follow(tether.id)}
        >
          Follow its source again
        </Button>
      )}
      {error && <FaultNote fault={faultOf(error)} className="mt-1" />}
      {frozen && (
        <p className="mt-1 text-muted">
          Frozen {frozen.by && `by ${frozen.by} `}
          <Moment at={frozen.at} />: it keeps what it shows.
        </p>
      )}
    </>
  );
}
