import { USUAL_LOOK } from '@tether/core';
import { useSnapshotQuery } from '../state/api.ts';
import { PlacedFace } from './PlacedFace.tsx';

/** As wide as it is: it is scrolled, not folded. */
const ROOM = { width: 4000, height: 100_000 };
const AS_IT_IS = {};

/** What a snapshot holds, as a table in the look of its source. */
export function SnapshotView({ hash, label }: { hash: string; label: string }) {
  const { data: snapshot } = useSnapshotQuery(hash);
  if (!snapshot) return <div className="h-24 w-80 animate-pulse bg-mist" aria-hidden />;
  return (
    <PlacedFace
      snapshot={snapshot}
      form="table"
      dressing={AS_IT_IS}
      look={USUAL_LOOK}
      room={ROOM}
      label={label}
    />
  );
}
