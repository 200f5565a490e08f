/** An object that a demo document shows: where it comes from, what it takes, and how it stands in the text. */
export interface DemoObject {
  key: string;
  name: string;
  folder: string;
  path: string;
  /** A range, a name, a chart of the source, or columns by their headers. */
  takes:
    | { reference: string }
    | { name: string }
    | { sheet: string; chart: string }
    | { sheet: string; headerRow: number; columns: string[] };
  /** A table where nothing is said. */
  form?: 'facsimile' | 'chart' | 'value' | 'tag';
  dressing?: Record<string, unknown>;
  /** As what it is counted, and the words of its caption. */
  caption?: { kind: 'table' | 'figure'; words: DemoWords };
}

/** Words of the text; an object inside a line, or a reference to one, is named by its key. */
export type DemoWords = (string | { object: string } | { reference: string })[];

/** Node of the document's text. Loading the demo puts the tethers' ids in the place of keys. */
type DemoNode =
  | { heading: string; level: 1 | 2 }
  | { text: string | DemoWords }
  | { list: string[] }
  | { object: string }
  | { listOfObjects: true };

export interface DemoReport {
  name: string;
  /** What is settled for the document: paper, look, head and foot. */
  settings?: Record<string, unknown>;
  objects: DemoObject[];
  body: DemoNode[];
}

const COUNTS: DemoObject = {
  key: 'counts',
  name: 'Planting counts by plot',
  folder: 'Monitoring',
  path: 'planting-counts.xlsx',
  // By its name it keeps its totals when a plot is put in.
  takes: { name: 'PlotCounts' },
};
const PILES: DemoObject = {
  key: 'piles',
  name: 'Boardwalk piles as driven',
  folder: 'Works',
  path: 'boardwalk-piles.xlsx',
  takes: { reference: 'Piles!A4:G15' },
};

const TITLE: DemoNode = { heading: 'Autumn monitoring report', level: 1 };
const COUNTED =
  'All plots were counted between 5 and 8 October at low water. Glasswort and cordgrass have taken well along the whole of the creek; sea lavender is behind on the silted ground east of the sluice, and plot SC-04 lost plants to geese after the September surge opened the fence.';
const REPLANTING: DemoNode[] = [
  {
    text: 'Plots with a survival below 60 per cent are to be replanted in March. The ecologist proposes:',
  },
  {
    list: [
      'SC-04: fence first, then replant sea purslane from the trust’s own stock.',
      'SC-07: wait for the silt to settle, and plant half the plot as a trial.',
      'All other plots: no work before the spring count.',
    ],
  },
];
const DRIVEN =
  'Ten piles stand. The deep section across the creek bed needed the larger timber and reached its set at about 3.6 metres; every pile passed the blow count agreed with the engineer.';
const DECKING: DemoNode = {
  text: 'Decking starts when the spring tides of November have passed. The figures above come straight from the works file and will change as the last bents are driven.',
};

/** The demo report, with an object of every form. */
export const AUTUMN_REPORT: DemoReport = {
  name: 'Autumn monitoring report',
  settings: {
    header: { left: 'Brackwater Trust', middle: '', right: '{title}' },
    footer: { left: '', middle: '', right: '{page} / {pages}' },
  },
  objects: [
    {
      ...COUNTS,
      caption: { kind: 'table', words: ['Plants set and surviving on the twelve plots'] },
    },
    {
      ...COUNTS,
      key: 'set',
      name: 'Plants set',
      takes: { name: 'PlantsSet' },
      form: 'value',
    },
    {
      ...COUNTS,
      key: 'alive',
      name: 'Plants surviving',
      takes: { name: 'PlantsSurviving' },
      form: 'value',
    },
    {
      ...COUNTS,
      key: 'survival',
      name: 'Planted and surviving',
      takes: { sheet: 'Counts', chart: 'Counts/1' },
      form: 'chart',
      dressing: { height: 62 },
      caption: {
        kind: 'figure',
        words: ['Plants set and surviving: ', { object: 'share' }, ' of all live'],
      },
    },
    {
      ...COUNTS,
      key: 'share',
      name: 'Share that survives',
      takes: { name: 'ShareSurviving' },
      form: 'value',
    },
    {
      ...PILES,
      form: 'facsimile',
      caption: { kind: 'table', words: ['Piles as driven, as the works file shows them'] },
    },
    {
      key: 'visitors',
      name: 'Visitors by month',
      folder: 'Monitoring',
      path: 'visitor-counts.csv',
      takes: { reference: 'A1:B70' },
      form: 'chart',
      dressing: { height: 76, forecast: { periods: 15, season: 'found', confidence: 90 } },
      caption: {
        kind: 'figure',
        words: ['Visitors on the embankment, with what may come until the end of next year'],
      },
    },
    {
      key: 'gate',
      name: 'Gate counter',
      folder: 'Monitoring',
      path: 'visitor-counts.csv',
      takes: { reference: 'A1:B70' },
      form: 'tag',
    },
    {
      key: 'budget',
      name: 'Grant budget',
      folder: 'Finance',
      path: 'grant-budget.ods',
      takes: { reference: 'Budget!A4:E11' },
      dressing: {
        table: { letters: 'document', fills: 'document', formats: 'document', widths: 'document' },
      },
      caption: { kind: 'table', words: ['Grant, spent and balance by work package'] },
    },
  ],
  body: [
    TITLE,
    {
      text: [
        'Sallow Creek saltmarsh, second season after the breach. This report sets out what the October round of counts found on the twelve planted plots, and how far the boardwalk has come that will carry next year’s visitors over the restored creek. Of ',
        { object: 'set' },
        ' plants set, ',
        { object: 'alive' },
        ' are alive.',
      ],
    },
    { listOfObjects: true },
    { heading: 'Planting and survival', level: 2 },
    {
      text: [
        COUNTED,
        ' ',
        { reference: 'counts' },
        ' has every plot, ',
        { reference: 'survival' },
        ' the whole at a glance.',
      ],
    },
    { object: 'counts' },
    { object: 'survival' },
    ...REPLANTING,
    { heading: 'Boardwalk', level: 2 },
    { text: [DRIVEN, ' They are set out in ', { reference: 'piles' }, '.'] },
    { object: 'piles' },
    DECKING,
    { heading: 'Visitors', level: 2 },
    {
      text: [
        'The counter at the gate goes on counting while the boardwalk is built. What it may show next year is in ',
        { reference: 'visitors' },
        '; the figures are those of ',
        { object: 'gate' },
        '.',
      ],
    },
    { object: 'visitors' },
    { heading: 'Grant', level: 2 },
    {
      text: [
        'One work package has spent more than it was granted, as ',
        { reference: 'budget' },
        ' shows; the board decides on it in December.',
      ],
    },
    { object: 'budget' },
  ],
};

/** A report with two tables and nothing else: something small to begin with. */
export const SHORT_REPORT: DemoReport = {
  name: AUTUMN_REPORT.name,
  objects: [COUNTS, PILES],
  body: [
    TITLE,
    {
      text: 'Sallow Creek saltmarsh, second season after the breach. This report sets out what the October round of counts found on the twelve planted plots, and how far the boardwalk has come that will carry next year’s visitors over the restored creek.',
    },
    { heading: 'Planting and survival', level: 2 },
    { text: COUNTED },
    { object: 'counts' },
    ...REPLANTING,
    { heading: 'Boardwalk', level: 2 },
    { text: DRIVEN },
    { object: 'piles' },
    DECKING,
  ],
};
