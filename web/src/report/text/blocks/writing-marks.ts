import { Extension } from '@tiptap/core';

/** To which side the lines of a paragraph or heading keep; null for the left one, as always. */
export type Alignment = 'center' | 'right' | 'justify' | null;

const ALIGNMENTS: readonly unknown[] = ['center', 'right', 'justify'];

/** Paragraphs and headings whose lines keep to another side. */
export const Aligned = Extension.create({
  name: 'aligned',
  addGlobalAttributes: () => [
    {
      types: ['paragraph', 'heading'],
      attributes: {
        align: {
          default: null,
          parseHTML: ({ style }) => (ALIGNMENTS.includes(style.textAlign) ? style.textAlign : null),
          renderHTML: ({ align }) =>
            ALIGNMENTS.includes(align) ? { style: `text-align: ${align as string}` } : {},
        },
      },
    },
  ],
});

/** Signs that few keyboards have, with what they are called. */
export const SIGNS = [
  ['\u00a0', 'space that does not break'],
  ['\u202f', 'narrow space, between figure and unit'],
  ['\u2011', 'hyphen that does not break'],
  ['–', 'dash, from – to'],
  ['—', 'long dash'],
  ['…', 'ellipsis'],
  ['°', 'degree'],
  ['µ', 'micro'],
  ['±', 'plus or minus'],
  ['×', 'times'],
  ['·', 'middle dot'],
  ['≤', 'at most'],
  ['≥', 'at least'],
  ['≈', 'about'],
  ['−', 'minus'],
  ['½', 'half'],
  ['€', 'euro'],
  ['§', 'section'],
] as const;
