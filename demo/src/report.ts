/** An object that a demo document shows: where it comes from and what it takes. */
export interface DemoObject {
  key: string;
  name: string;
  folder: string;
  path: string;
  reference: string;
}

/** Node of the document's text. An object is named by its key; loading the demo puts the tether's id there. */
export type DemoNode =
  | { heading: string; level: 1 | 2 }
  | { text: string }
  | { list: string[] }
  | { object: string };

/** The demo report: its objects and its text. */
export const AUTUMN_REPORT: { name: string; objects: DemoObject[]; body: DemoNode[] } = {
  name: 'Autumn monitoring report',
  objects: [
    {
      key: 'counts',
      name: 'Planting counts by plot',
      folder: 'Monitoring',
      path: 'planting-counts.xlsx',
      reference: 'Counts!A4:G17',
    },
    {
      key: 'piles',
      name: 'Boardwalk piles as driven',
      folder: 'Works',
      path: 'boardwalk-piles.xlsx',
      reference: 'Piles!A4:G15',
    },
  ],
  body: [
    { heading: 'Autumn monitoring report', level: 1 },
    {
      text: 'Sallow Creek saltmarsh, second season after the breach. This report sets out what the October round of counts found on the twelve planted plots, and how far the boardwalk has come that will carry next year’s visitors over the restored creek.',
    },
    { heading: 'Planting and survival', level: 2 },
    {
      text: 'All plots were counted between 5 and 8 October at low water. Glasswort and cordgrass have taken well along the whole of the creek; sea lavender is behind on the silted ground east of the sluice, and plot SC-04 lost plants to geese after the September surge opened the fence.',
    },
    { object: 'counts' },
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
    { heading: 'Boardwalk', level: 2 },
    {
      text: 'Ten piles stand. The deep section across the creek bed needed the larger timber and reached its set at about 3.6 metres; every pile passed the blow count agreed with the engineer.',
    },
    { object: 'piles' },
    {
      text: 'Decking starts when the spring tides of November have passed. The figures above come straight from the works file and will change as the last bents are driven.',
    },
  ],
};
