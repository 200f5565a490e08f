import type { DemoObject } from './report.ts';

/** A demo document on pages: its objects, the plan under it, and what stands where. */
export interface DemoPages {
  kind: 'drawing' | 'slides';
  name: string;
  objects: DemoObject[];
  /** An SVG in true millimetres, and the pixels that its size comes to (CSS Values 4, 6.2: 96 to 25.4 mm). */
  plan: { svg: string; width: number; height: number } | null;
  settings: Record<string, unknown>;
  pages: Record<string, unknown>[];
  /** The things on its pages; objects by the tethers of their keys, the plan by its hash. */
  things(tethers: ReadonlyMap<string, string>, plan: string): Record<string, unknown>[];
}

/** Millimetres of the plan in truth, and where the axis of the boardwalk lies in it. */
const PLAN = { width: 26_000, height: 7_000 };
const AXIS = { y: 3_500, from: 2_000, to: 24_000 };
const PLAN_PIXELS = { width: (PLAN.width * 96) / 25.4, height: (PLAN.height * 96) / 25.4 };
/** Half of the width of the deck. */
const DECK = 750;

/** The boardwalk over Sallow Creek from above, as an SVG of true size. */
function boardwalkPlan(): string {
  const { width, height } = PLAN;
  const planks = Array.from({ length: 88 }, (_, at) => AXIS.from - 200 + at * 254);
  const reeds = Array.from({ length: 70 }, (_, at) => {
    // Set out by a plain rule, so that the plan is the same wherever it is made.
    const x = (at * 7_919) % width;
    const y = (at * 4_801) % height;
    const isFree = Math.abs(y - AXIS.y) > DECK + 300 && (x < 9_400 || x > 17_300);
    return isFree ? `M${x} ${y}v-160M${x} ${y}l-70 -130M${x} ${y}l70 -130` : '';
  }).join('');
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}mm" height="${height}mm" viewBox="0 0 ${width} ${height}">`,
    '<title>Boardwalk over Sallow Creek, plan</title>',
    // Each group is a layer of the plan, which a view can leave out.
    `<g id="marsh"><title>Marsh</title><rect width="${width}" height="${height}" fill="#f3f6ee"/></g>`,
    '<g id="creek"><title>Creek</title>',
    // The creek, its banks and the line of low water.
    '<path d="M9800 0C9300 1800 10900 2900 10300 4300S9500 6200 9900 7000H16900C17400 5600 16100 4700 16600 3300S17300 1200 16800 0Z" fill="#dbe9ee" stroke="#5b6f77" stroke-width="14"/>',
    '<path d="M11600 0C11200 1800 12500 2900 12000 4300S11400 6200 11700 7000M15200 0C15600 1400 14700 2700 15100 4100S15600 6100 15300 7000" fill="none" stroke="#5b6f77" stroke-width="9" stroke-dasharray="160 90"/>',
    '</g>',
    `<g id="reeds"><title>Reeds</title><path d="${reeds}" fill="none" stroke="#7f9271" stroke-width="12"/></g>`,
    '<g id="deck"><title>Deck</title>',
    `<rect x="${AXIS.from - 300}" y="${AXIS.y - DECK}" width="${AXIS.to - AXIS.from + 300}" height="${2 * DECK}" fill="#efe3d2" stroke="#10242b" stroke-width="18"/>`,
    `<path d="${planks.map((x) => `M${x} ${AXIS.y - DECK}v${2 * DECK}`).join('')}" fill="none" stroke="#a98f6f" stroke-width="6"/>`,
    `<path d="M${AXIS.from - 300} ${AXIS.y - DECK + 90}H${AXIS.to}M${AXIS.from - 300} ${AXIS.y + DECK - 90}H${AXIS.to}" fill="none" stroke="#10242b" stroke-width="9"/>`,
    '</g>',
    '</svg>',
  ].join('\n');
}

const [WORKS, PILES] = ['Works', 'boardwalk-piles.xlsx'];
const SHEET = '5a10b0a2-0001-4000-8000-000000000001';
const VIEWS = ['5a10b0a2-0002-4000-8000-000000000001', '5a10b0a2-0002-4000-8000-000000000002'];
const SCHEDULE = '5a10b0a2-0003-4000-8000-000000000001';
let made = 0;
const fresh = () => `5a10b0a2-0009-4000-8000-${String(++made).padStart(12, '0')}`;

/** Boardwalk sheet BW-01: A3, 1:50, the boardwalk in two views, its piles as marks, the schedule folded at the frame. */
export const BOARDWALK_SHEET: DemoPages = {
  kind: 'drawing',
  name: 'Boardwalk sheet BW-01',
  objects: [
    {
      key: 'schedule',
      name: 'Pile schedule',
      folder: WORKS,
      path: PILES,
      takes: {
        sheet: 'Piles',
        headerRow: 4,
        columns: ['Pile', 'Chainage (m)', 'Length (m)', 'Set depth (m)'],
      },
    },
    {
      key: 'depths',
      name: 'Length and set depth by pile',
      folder: WORKS,
      path: PILES,
      takes: { sheet: 'Piles', headerRow: 4, columns: ['Pile', 'Length (m)', 'Set depth (m)'] },
      form: 'chart',
      dressing: { width: 168, height: 70 },
    },
    {
      key: 'timber',
      name: 'Timber in all',
      folder: WORKS,
      path: PILES,
      takes: { reference: 'Piles!D15' },
      form: 'value',
      dressing: { value: { before: 'Timber in all: ', after: ' m' } },
    },
    {
      key: 'subtitle',
      name: 'What the piles carry',
      folder: WORKS,
      path: PILES,
      takes: { reference: 'Piles!A1' },
      form: 'value',
    },
  ],
  plan: { svg: boardwalkPlan(), ...PLAN_PIXELS },
  settings: {
    fields: {
      owner: 'Brackwater Trust',
      number: 'BW-01',
      revision: 'A',
      date: '2026-11-12',
      title: 'Boardwalk',
      createdBy: 'T. Reedsby',
      approvedBy: 'I. Fallow',
      documentType: 'Plan and pile schedule',
      status: 'for issue',
      language: 'en',
      scale: '1:50',
    },
  },
  pages: [{ id: SHEET, name: 'BW-01', order: 0, size: 'A3', isLandscape: true }],
  things(tethers, plan) {
    made = 0;
    const base = (order: number) => ({ page: SHEET, order });
    const pictured = {
      hash: plan,
      pixelWidth: PLAN_PIXELS.width,
      pixelHeight: PLAN_PIXELS.height,
      trueWidth: PLAN.width,
    };
    const view = (at: number, y: number, chainage: number, words: string) => ({
      ...{ ...base(at), id: VIEWS[at]!, kind: 'view', isLines: true, alt: words, ...pictured },
      ...{ x: 25, y, width: 208, height: 70, scale: 1 / 50, north: at === 0 ? 20 : null },
      centre: { x: AXIS.from + chainage * 1000, y: AXIS.y },
    });
    const marks = (at: number) => ({
      ...{ ...base(2 + at), id: fresh(), kind: 'marks', x: 0, y: 0 },
      ...{ of: tethers.get('schedule')!, view: VIEWS[at]!, key: 'Pile', symbol: 'square' },
      labels: ['Pile', 'Length (m)'],
      from: {
        kind: 'along',
        line: [
          { x: AXIS.from, y: AXIS.y },
          { x: AXIS.to, y: AXIS.y },
        ],
        chainage: 'Chainage (m)',
        offset: null,
        unit: 1000,
      },
    });
    const text = (order: number, x: number, y: number, words: string) => ({
      ...{ ...base(order), id: fresh(), kind: 'text', x, y, width: 208, height: 7, text: words },
    });
    const object = (order: number, key: string, place: Record<string, unknown>) => {
      const { form = 'table', dressing = {} } = this.objects.find((each) => each.key === key)!;
      const tetherId = tethers.get(key)!;
      return { ...base(order), id: fresh(), kind: 'object', tetherId, form, dressing, ...place };
    };
    return [
      view(0, 16, 4.8, 'Boardwalk, bents 1 to 5'),
      view(1, 100, 17, 'Boardwalk, bents 6 to 10'),
      marks(0),
      marks(1),
      text(10, 25, 88, 'Plan, bents 1 to 5, 1:50'),
      text(11, 25, 172, 'Plan, bents 6 to 10, 1:50'),
      {
        ...{ ...base(12), id: fresh(), kind: 'dimension', x: 33, y: 51, view: VIEWS[0]! },
        ...{ to: { x: 48, y: 0 }, beside: 20 },
      },
      object(20, 'schedule', { id: SCHEDULE, x: 238, y: 16, height: 54 }),
      object(21, 'timber', { x: 238, y: 70, below: { of: SCHEDULE, gap: 4 } }),
      object(22, 'depths', { x: 238, y: 100 }),
      object(23, 'subtitle', { x: 300, y: 270, field: 'subtitle' }),
      {
        ...{ ...base(24), id: fresh(), kind: 'text', x: 25, y: 190, width: 150, height: 24 },
        text: 'Piles of square sawn larch, driven to the blow count agreed.\nChainages run from the western landing along the axis.\nAll lengths in millimetres unless a unit is given.',
        letters: 2.5,
      },
    ];
  },
};
