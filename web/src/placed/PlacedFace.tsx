import {
  type DocumentLook,
  drawFacsimile,
  emptyWords,
  extendTable,
  forecastInputs,
  type Snapshot,
  smallWords,
  type TableFace,
} from '@tether/core';
import type { Dressing, Form } from '@tether/documents';
import { type ReactNode, useContext, useEffect, useMemo } from 'react';
import { chartSize, facsimileSize, type Room, tableWish } from './as-dressed.ts';
import { useForecasts } from './chart/forecasts.ts';
import { PlacedChart } from './chart/PlacedChart.tsx';
import { DrawnOrFault } from './DrawnOrFault.tsx';
import { FacsimileFigure } from './FacsimileFigure.tsx';
import { Drawing } from './nearness/nearness.ts';
import { Said } from './Said.tsx';
import { PlacedTable } from './table/PlacedTable.tsx';
import { useTableFace } from './table/useTableFace.ts';

type TableProps = Omit<Parameters<typeof PlacedTable>[0], 'face' | 'label'>;

interface Props extends TableProps {
  snapshot: Snapshot;
  form: Form;
  dressing: Dressing;
  /** How tables look that follow the document. */
  look: DocumentLook;
  /** Pixels there are for it: across, and down a page. */
  room: Room;
  label: string;
  /** Of its cells, where the server has them as they are. */
  hash?: string;
  /** What stands there until a long table has been measured. */
  meanwhile?: ReactNode;
  /** Told how a table came out, and null for other forms. */
  onFace?: (face: TableFace | null) => void;
}

/** What a placed object between paragraphs shows, whatever its form and whatever kind of document it stands in. */
export function PlacedFace(props: Props) {
  const { snapshot, form, dressing, room } = props;
  return (
    <DrawnOrFault resetKeys={[snapshot, form, dressing, room]}>
      <Face {...props} />
    </DrawnOrFault>
  );
}

function Face(props: Props) {
  const { snapshot, form, dressing, room, label } = props;
  if (form === 'chart') {
    const { width, height } = chartSize(dressing, room);
    return (
      <div style={{ width }}>
        <PlacedChart
          snapshot={snapshot}
          making={dressing.chart}
          forecast={dressing.forecast}
          label={label}
          height={height}
        />
      </div>
    );
  }
  if (form === 'facsimile') {
    return <Facsimile snapshot={snapshot} label={label} room={room} wanted={dressing.width} />;
  }
  return <Table {...props} />;
}

function Facsimile(props: {
  snapshot: Snapshot;
  label: string;
  room: Props['room'];
  wanted: number | undefined;
}) {
  const { snapshot, label, room, wanted } = props;
  const natural = useMemo(() => drawFacsimile(snapshot), [snapshot]);
  const { width } = facsimileSize(natural, wanted, room);
  const isOnScreen = useContext(Drawing) === 'near';
  const words =
    emptyWords(snapshot) ?? (isOnScreen ? smallWords(snapshot, width / natural.width) : null);
  return (
    <>
      <FacsimileFigure snapshot={snapshot} label={label} width={width} />
      <Said words={words} />
    </>
  );
}

function Table(props: Props) {
  const {
    snapshot: taken,
    form: _form,
    dressing,
    look: document,
    room,
    label,
    hash = null,
    meanwhile,
    onFace,
    ...table
  } = props;
  const wish = dressing.forecast;
  const inputs = useMemo(() => (wish ? forecastInputs(taken) : null), [taken, wish]);
  const forecasts = useForecasts(inputs, wish);
  const snapshot = useMemo(
    () => (wish && forecasts ? extendTable(taken, wish, forecasts) : taken),
    [taken, wish, forecasts],
  );
  const asWished = useMemo(() => tableWish(dressing, document, room), [dressing, document, room]);
  // Cells with a forecast are nowhere but here.
  const { face, isComing } = useTableFace(snapshot, snapshot === taken ? hash : null, asWished);
  useEffect(() => {
    // Until it has come what is known of it stays.
    if (!face) return;
    onFace?.(face);
    return () => onFace?.(null);
  }, [face, onFace]);
  if (!face) return <div data-pending>{meanwhile}</div>;
  return (
    <div {...((wish && !forecasts) || isComing ? { 'data-pending': true } : {})}>
      <PlacedTable face={face} label={label} {...table} />
      <Said words={emptyWords(taken)} />
      {forecasts?.map(
        (each, index) =>
          !each.ok && (
            <Said key={index} words={`${inputs?.[index]?.name}: ${each.fault.message}`} />
          ),
      )}
    </div>
  );
}
