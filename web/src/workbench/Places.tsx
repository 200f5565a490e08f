import type { Place, Tether } from '@tether/contract';
import { describeReach, USUAL_LOOK } from '@tether/core';
import { useState } from 'react';
import { PlacedFace } from '../placed/PlacedFace.tsx';
import { SnapshotView } from '../placed/SnapshotView.tsx';
import { faultOf, useChangeTetherMutation, useStaysMutation, useTakeQuery } from '../state/api.ts';
import { useMayChange } from '../state/useMayChange.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { QuestionBox } from '../ui/QuestionBox.tsx';

/** Of a reshaped object: where its cells may stand now, each to be looked at beside what it shows, and chosen. */
export function Places({ tether, isHeld }: { tether: Tether; isHeld: boolean }) {
  const { isAllowed, whyNot } = useMayChange();
  const [looked, setLooked] = useState<Place | null>(null);
  const [stay, staying] = useStaysMutation();
  if (!tether.places) return null;
  return (
    <section aria-label="Where it may stand now" className="mt-2">
      <ul className="divide-y divide-hairline border-y border-hairline">
        {tether.places.map((place) => (
          <li key={place.where} className="py-2">
            <p className="font-mono text-[12px]">{place.where}</p>
            <p className="text-muted">{place.reasons.join(' ')}</p>
            <Button
              className="mt-1"
              aria-label={`Compare with ${place.where}`}
              onClick={() => setLooked(place)}
            >
              Compare …
            </Button>
          </li>
        ))}
      </ul>
      <Button
        className="mt-2"
        disabled={!isAllowed || isHeld || staying.isLoading}
        title={whyNot}
        onClick={() => void stay(tether.id)}
      >
        It stays at <span className="font-mono text-[12px]">{describeReach(tether.reach)}</span>
      </Button>
      {staying.error && <FaultNote fault={faultOf(staying.error)} className="mt-2" />}
      {looked && (
        <Compared tether={tether} place={looked} isHeld={isHeld} onClose={() => setLooked(null)} />
      )}
    </section>
  );
}

/** As wide as it is: it is scrolled, not folded. */
const ROOM = { width: 4000, height: 100_000 };
const AS_IT_IS = {};

function Compared(props: { tether: Tether; place: Place; isHeld: boolean; onClose: () => void }) {
  const { tether, place, isHeld, onClose } = props;
  const { isAllowed, whyNot } = useMayChange();
  const { data: taken, error } = useTakeQuery({
    sourceId: tether.source.id,
    hash: `${tether.base} ${tether.standingSince}`,
    reach: place.reach,
  });
  const [change, changing] = useChangeTetherMutation();
  const failed = changing.error ?? error;
  const choose = async () => {
    const { id, documentId } = tether;
    const done = await change({ id, documentId, reach: place.reach });
    if (!('error' in done)) onClose();
  };
  return (
    <QuestionBox isWide title={`${tether.name} at ${place.where}`} onClose={onClose}>
      <div className="grid min-h-0 flex-1 grid-cols-2 gap-4">
        <section className="flex min-h-0 min-w-0 flex-col">
          <h3 className="mb-1 text-sm font-semibold text-muted">What it shows</h3>
          <div className="min-h-0 flex-1 overflow-auto border border-hairline p-2">
            <SnapshotView hash={tether.base} label="What it shows" />
          </div>
        </section>
        <section className="flex min-h-0 min-w-0 flex-col">
          <h3 className="mb-1 text-sm font-semibold text-muted">What stands at {place.where}</h3>
          <div className="min-h-0 flex-1 overflow-auto border border-hairline p-2">
            {taken && (
              <PlacedFace
                snapshot={taken.snapshot}
                form="table"
                dressing={AS_IT_IS}
                look={USUAL_LOOK}
                room={ROOM}
                label={`What stands at ${place.where}`}
              />
            )}
          </div>
        </section>
      </div>
      <p className="text-muted">{place.reasons.join(' ')}</p>
      {failed && <FaultNote fault={faultOf(failed)} />}
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Leave it</Button>
        <Button
          kind="primary"
          disabled={!isAllowed || isHeld || !taken || changing.isLoading}
          title={whyNot}
          onClick={() => void choose()}
        >
          {changing.isLoading ? 'Taking …' : 'Take it from here'}
        </Button>
      </div>
    </QuestionBox>
  );
}
