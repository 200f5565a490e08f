import type { Tether } from '@tether/contract';
import { describeReach, formatArea } from '@tether/core';
import { Link } from 'react-router';
import { valueText } from '../../placed/value-text.ts';
import { useSnapshotQuery } from '../../state/api.ts';

/** A value, with the words around it. */
export function ValueFace(props: {
  tether: Tether;
  dressing: { value?: Parameters<typeof valueText>[1] | undefined };
}) {
  const { data: snapshot } = useSnapshotQuery(props.tether.shown);
  return snapshot ? valueText(snapshot, props.dressing.value ?? {}) : '…';
}

/** Source and cells in small; leads to the source at those cells. */
export function TagFace({ tether }: { tether: Tether }) {
  const { data: snapshot } = useSnapshotQuery(tether.shown);
  const where = snapshot && { sheet: snapshot.sheet, cells: formatArea(snapshot.area) };
  return (
    <Link
      to={`/sources/${tether.source.id}${where ? `?${new URLSearchParams(where)}` : ''}`}
      // As high as a line, which is what a finger needs.
      className="inline-block max-w-full rounded-box border border-hairline bg-mist px-1 align-bottom paper-sans text-[11px] leading-[22px] text-ink no-underline hover:border-deep"
    >
      {tether.source.path} <span className="paper-mono">{describeReach(tether.reach)}</span>
    </Link>
  );
}
