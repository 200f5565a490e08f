import type { DemoPages } from './boardwalk-sheet.ts';

const slideId = (nth: number) => `5a10b0a3-0001-4000-8000-${String(nth).padStart(12, '0')}`;
const COUNTS = { folder: 'Monitoring', path: 'planting-counts.xlsx' };

/** Funders' briefing: six slides with values, a table, charts, a forecast and a budget that follow their sources. */
export const FUNDERS_BRIEFING: DemoPages = {
  kind: 'slides',
  name: 'Funders’ briefing',
  objects: [
    {
      ...{ ...COUNTS, key: 'set', name: 'Plants set', takes: { name: 'PlantsSet' } },
      form: 'value',
    },
    {
      ...{ ...COUNTS, key: 'alive', name: 'Plants surviving' },
      takes: { name: 'PlantsSurviving' },
      form: 'value',
    },
    {
      ...{ ...COUNTS, key: 'share', name: 'Share that survives' },
      takes: { name: 'ShareSurviving' },
      form: 'value',
    },
    {
      ...{ ...COUNTS, key: 'plots', name: 'Counts by plot', takes: { name: 'PlotCounts' } },
      form: 'facsimile',
      dressing: { width: 128 },
    },
    {
      ...{ ...COUNTS, key: 'survival', name: 'Planted and surviving' },
      takes: { sheet: 'Counts', chart: 'Counts/1' },
      form: 'chart',
      dressing: { width: 222, height: 92 },
    },
    {
      ...{ key: 'visitors', name: 'Visitors by month', folder: 'Monitoring' },
      ...{ path: 'visitor-counts.csv', takes: { reference: 'A1:B70' }, form: 'chart' },
      dressing: {
        ...{ width: 222, height: 92 },
        forecast: { periods: 15, season: 'found', confidence: 90 },
      },
    },
    {
      ...{ key: 'budget', name: 'Grant budget', folder: 'Finance', path: 'grant-budget.ods' },
      takes: { reference: 'Budget!A4:E11' },
      form: 'facsimile',
      dressing: { width: 200 },
    },
    {
      ...{ key: 'piles', name: 'Piles as driven', folder: 'Works' },
      ...{ path: 'boardwalk-piles.xlsx', takes: { reference: 'Piles!A4:G15' }, form: 'facsimile' },
      dressing: { width: 128 },
    },
  ],
  plan: null,
  settings: { foot: 'Brackwater Trust, November 2026' },
  pages: [
    ['opening', 'Thank everybody for coming out in this weather.'],
    ['two halves', 'SC-04 lost plants to the geese, not to the salt. The fence is mended.'],
    ['title and words', 'The two low columns are the plots that are to be replanted in March.'],
    [
      'title and words',
      'The band is where nine months of ten should lie. The boardwalk is not in it yet.',
    ],
    [
      'title and words',
      'Only the sluice has spent more than it was granted. The board decides in December.',
    ],
    ['two halves', 'Decking begins after the spring tides.'],
  ].map(([arrangement, notes], at) => ({ id: slideId(at + 1), order: at, arrangement, notes })),
  things(tethers) {
    let made = 0;
    const base = (slide: number) => ({
      id: `5a10b0a3-0009-4000-8000-${String(++made).padStart(12, '0')}`,
      page: slideId(slide),
      order: made,
    });
    const text = (
      slide: number,
      role: 'title' | 'words',
      words: string,
      box: { x: number; y: number; width: number; height: number; letters: number },
    ) => ({ ...base(slide), kind: 'text', role, text: words, ...box });
    const title = (slide: number, words: string) =>
      text(slide, 'title', words, { x: 16, y: 12, width: 222, height: 16, letters: 7 });
    const object = (slide: number, key: string, place: Record<string, unknown>) => {
      const { form = 'table', dressing = {} } = this.objects.find((each) => each.key === key)!;
      const tetherId = tethers.get(key)!;
      return { ...base(slide), kind: 'object', tetherId, form, dressing, ...place };
    };
    const value = (key: string) => ({
      type: 'placedInline',
      attrs: { tetherId: tethers.get(key)! },
    });
    const words = (said: string) => ({ type: 'text', text: said });
    const paragraph = (...content: object[]) => ({ type: 'paragraph', content });
    const bullets = (...items: string[]) => ({
      type: 'bulletList',
      content: items.map((item) => ({ type: 'listItem', content: [paragraph(words(item))] })),
    });
    const counted = {
      ...text(2, 'words', 'Of … plants set, … are alive in October. That is … of them.', {
        ...{ x: 16, y: 38, width: 84, height: 70, letters: 5 },
      }),
      rich: [
        paragraph(
          ...[words('Of '), value('set'), words(' plants set, '), value('alive')],
          words(' are alive in October. That is '),
          ...[value('share'), words(' of them.')],
        ),
      ],
    };
    return [
      text(1, 'title', 'Sallow Creek, season two', {
        ...{ x: 16, y: 48, width: 222, height: 24, letters: 10 },
      }),
      text(1, 'words', 'Briefing for the funders of the restoration', {
        ...{ x: 16, y: 76, width: 222, height: 14, letters: 5 },
      }),
      title(2, 'What was planted, and what lives'),
      counted,
      ...['set', 'alive', 'share'].map((key) =>
        object(2, key, { x: 16, y: 38, within: counted.id }),
      ),
      object(2, 'plots', { x: 108, y: 36 }),
      title(3, 'Every plot at a glance'),
      object(3, 'survival', { x: 16, y: 34 }),
      title(4, 'Visitors, and what may come'),
      object(4, 'visitors', { x: 16, y: 34 }),
      title(5, 'The grant by work package'),
      object(5, 'budget', { x: 16, y: 36 }),
      title(6, 'Until spring'),
      {
        ...text(
          6,
          'words',
          '• Fence at SC-04, then replant\n• Half of SC-07 as a trial\n• Deck on the ten piles that stand',
          { x: 16, y: 38, width: 86, height: 80, letters: 4.5 },
        ),
        rich: [
          bullets(
            'Fence at SC-04, then replant',
            'Half of SC-07 as a trial',
            'Deck on the ten piles that stand',
          ),
        ],
      },
      object(6, 'piles', { x: 110, y: 38 }),
    ];
  },
};
