import { brokenPieces, type DocumentLook } from '@tether/core';
import type { Dressing, Form } from '@tether/documents';
import { Fragment, useEffect, useMemo } from 'react';
import { chartSize, facsimileSize, type Room, tableWish } from './as-dressed.ts';
import { CONTINUED_HEIGHT } from './table/continued.ts';
import type { FaceSize } from './table/face-size.worker.ts';
import { type Sizing, useFaceSize } from './table/face-sizes.ts';
import { PageGap, type TableBreak } from './table/PlacedTable.tsx';

interface Props {
  /** The cells that it takes. */
  hash: string;
  form: Form;
  dressing: Dressing;
  look: DocumentLook;
  room: Room;
  breaks: readonly TableBreak[];
  /** Told how large it is once that is known; null where that cannot be told, and for charts, which are as large as is wished. */
  onSize: (size: FaceSize | null) => void;
}

/** Whether it can be told how large an object comes out before it is drawn: a forecast has rows of its own. */
export function canKeepRoom({ forecast }: Dressing): boolean {
  return forecast === undefined;
}

/** Keeps the room of an object that nobody has come near yet, broken where its pages break: as large as it will be drawn. */
export function KeptRoom(props: Props) {
  const { hash, form, dressing, look, room, breaks, onSize } = props;
  const sizing = useMemo((): Sizing | null => {
    if (form === 'chart') return null;
    return { hash, table: form === 'facsimile' ? null : tableWish(dressing, look, room) };
  }, [hash, form, dressing, look, room]);
  const size = useFaceSize(sizing);
  useEffect(() => {
    if (form === 'chart') onSize(null);
    else if (size !== undefined) onSize(size);
  }, [size, form, onSize]);
  if (form === 'chart') return <div style={chartSize(dressing, room)} />;
  if (!size) return <div data-pending className="h-72 w-80" />;
  if (form === 'facsimile') return <div style={facsimileSize(size, dressing.width, room)} />;
  return (
    <div data-table style={{ width: size.width }}>
      {brokenPieces(size, breaks, CONTINUED_HEIGHT).map(({ gap, head, height }, index) => (
        <Fragment key={index}>
          {gap !== null && <PageGap height={gap} continued="" />}
          <div {...(head > 0 ? { 'data-repeated': head } : {})} style={{ height: head + height }} />
        </Fragment>
      ))}
    </div>
  );
}
