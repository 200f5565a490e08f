import {
  type DocumentLook,
  drawFacsimile,
  extendTable,
  faceTable,
  forecastInputs,
  PIXELS_PER_MM,
  type Snapshot,
  type TableFace,
  type TableLook,
} from '@tether/core';
import type { Dressing, Form } from '@tether/documents';
import { useEffect, useMemo } from 'react';
import { DrawnOrFault } from './DrawnOrFault.tsx';
import { FacsimileFigure } from './FacsimileFigure.tsx';
import { useForecasts } from './forecasts.ts';
import { PlacedChart } from './PlacedChart.tsx';
import { PlacedTable } from './PlacedTable.tsx';

type TableProps = Omit<Parameters<typeof PlacedTable>[0], 'face' | 'label'>;

interface Props extends TableProps {
  snapshot: Snapshot;
  form: Form;
  dressing: Dressing;
  /** How tables look that follow the document. */
  look: DocumentLook;
  /** Pixels there are for it: across, and down a page. */
  room: { width: number; height: number };
  label: string;
  /** Told how a table came out, and null for other forms. */
  onFace?: (face: TableFace | null) => void;
}

const AS_SOURCE: TableLook = {};
const NONE: NonNullable<Dressing['overrides']> = [];
/** Pixels of a chart’s height when nobody set it. */
const CHART_HEIGHT = 300;

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
    const { width, height } = dressing;
    return (
      <div style={{ width: Math.min(room.width, width ? width * PIXELS_PER_MM : room.width) }}>
        <PlacedChart
          snapshot={snapshot}
          making={dressing.chart}
          forecast={dressing.forecast}
          label={label}
          height={Math.min(room.height, height ? height * PIXELS_PER_MM : CHART_HEIGHT)}
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
  const asked = wanted === undefined ? natural.width : wanted * PIXELS_PER_MM;
  // As one piece it must fit its page, whatever was asked for.
  const highest = (room.height * natural.width) / Math.max(1, natural.height);
  return (
    <FacsimileFigure
      snapshot={snapshot}
      label={label}
      width={Math.min(asked, room.width, highest)}
    />
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
    onFace,
    ...table
  } = props;
  const { table: look = AS_SOURCE, overrides = NONE, beside = 1 } = dressing;
  const wish = dressing.forecast;
  const inputs = useMemo(() => (wish ? forecastInputs(taken) : null), [taken, wish]);
  const forecasts = useForecasts(inputs, wish);
  const snapshot = useMemo(
    () => (wish && forecasts ? extendTable(taken, wish, forecasts) : taken),
    [taken, wish, forecasts],
  );
  const face = useMemo(
    () =>
      faceTable(snapshot, {
        look,
        document,
        overrides,
        beside,
        room: room.width,
        pageHeight: room.height,
      }),
    [snapshot, look, document, overrides, beside, room.width, room.height],
  );
  useEffect(() => {
    onFace?.(face);
    return () => onFace?.(null);
  }, [face, onFace]);
  return (
    <div {...(wish && !forecasts ? { 'data-pending': true } : {})}>
      <PlacedTable face={face} label={label} {...table} />
    </div>
  );
}
