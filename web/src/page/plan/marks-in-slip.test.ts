import { describe, expect, it } from '@jest/globals';
import type { Cell, Snapshot } from '@tether/core';
import { type MarksThing, thingSchema, type ViewThing } from '@tether/documents';
import { marksThatChange } from './MarksInSlip.tsx';

const id = (nth: number) => `00000000-0000-4000-8000-${String(nth).padStart(12, '0')}`;
const place = { page: id(1), order: 0, layer: null, x: 0, y: 0 };
const view = thingSchema.parse({
  ...{ ...place, id: id(2), kind: 'view', width: 200, height: 100, hash: '0'.repeat(64) },
  ...{ pixelWidth: 100, pixelHeight: 50, trueWidth: 20_000, scale: 1 / 100 },
  centre: { x: 10_000, y: 5_000 },
}) as ViewThing;
const marks = (says: object) =>
  thingSchema.parse({
    ...{ ...place, id: id(3), kind: 'marks', of: id(4), view: id(2), key: 'Pile' },
    ...says,
  }) as MarksThing;

/** A schedule of piles and their chainages. */
function schedule(...piles: [string, number][]): Snapshot {
  const rows: (string | number)[][] = [['Pile', 'Chainage (m)'], ...piles];
  const cells = rows.flatMap((row, r) =>
    row.map((value, c): Cell => {
      const at = { row: r + 1, column: c + 1, dress: 0 };
      return typeof value === 'number'
        ? { ...at, type: 'number', value, text: String(value) }
        : { ...at, type: 'text', value, text: value };
    }),
  );
  return {
    sheet: 'Piles',
    area: { top: 1, left: 1, bottom: rows.length, right: 2 },
    cells,
    merges: [],
    columns: [],
    rows: [],
    dresses: [{ letters: { family: 'Carlito', size: 11 } }],
  } as unknown as Snapshot;
}

describe('marks in a change slip', () => {
  const before = schedule(['P-01', 0], ['P-02', 2.4]);
  const after = schedule(['P-02', 2.4], ['P-03', 4.8]);
  const keys = (all: readonly { key: string }[]) => all.map(({ key }) => key);

  it('come and go with their rows, whatever row of the sheet these stand in', () => {
    const line = [
      { x: 0, y: 5_000 },
      { x: 20_000, y: 5_000 },
    ];
    const from = { kind: 'along', line, chainage: 'Chainage (m)', offset: null, unit: 1_000 };
    const { coming, going } = marksThatChange(marks({ from }), view, before, after);
    expect([keys(coming), keys(going)]).toEqual([['P-03'], ['P-01']]);
    // Where it comes to stand is known from its chainage.
    expect(coming[0]?.place).toEqual({ x: 4_800, y: 5_000 });
  });

  it('have no place yet where they stand by hand', () => {
    const byHand = marks({ from: { kind: 'hand' }, places: { 'P-01': { x: 5, y: 5 } } });
    const { coming, going } = marksThatChange(byHand, view, before, after);
    expect(coming[0]).toMatchObject({ key: 'P-03', place: null });
    expect(going[0]).toMatchObject({ key: 'P-01', isByHand: true });
    expect(marksThatChange(byHand, view, before, before)).toEqual({ coming: [], going: [] });
  });
});
