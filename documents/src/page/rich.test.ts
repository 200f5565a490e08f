import { describe, expect, it } from '@jest/globals';
import {
  changeValues,
  isPlain,
  plainRich,
  type RichBlock,
  richSchema,
  richWords,
  tethersIn,
  valueIn,
  withAtEnd,
} from './rich.ts';

const [ONE, TWO] = ['00000000-0000-4000-8000-000000000001', '00000000-0000-4000-8000-000000000002'];
const text = (words: string, ...marks: { type: 'bold' }[]) => ({
  type: 'text' as const,
  text: words,
  ...(marks.length > 0 ? { marks } : {}),
});
const led = (href: string) => ({
  ...text('the counts'),
  marks: [{ type: 'link', attrs: { href } }],
});
const headed: RichBlock[] = [
  { type: 'heading', attrs: { level: 2 }, content: [text('Alive: '), valueIn(ONE!)] },
  { type: 'paragraph', content: [text('of all')] },
];
const written: RichBlock[] = [
  { type: 'paragraph', content: [text('Of '), valueIn(ONE!), text(' plants live:')] },
  {
    type: 'orderedList',
    content: [
      {
        type: 'listItem',
        content: [{ type: 'paragraph', content: [text('most', { type: 'bold' })] }],
      },
      {
        type: 'listItem',
        content: [
          { type: 'paragraph', content: [valueIn(TWO!)] },
          { type: 'bulletList', content: [{ type: 'listItem', content: plainRich('fenced') }] },
        ],
      },
    ],
  },
];

describe('a text on a page', () => {
  it('is taken as it is written, and nothing else', () => {
    expect(richSchema.parse(written)).toEqual(written);
    expect(richSchema.parse(headed)).toEqual(headed);
    const leads = [{ type: 'paragraph', content: [led('https://brackwater.example')] }];
    expect(richSchema.parse(leads)).toEqual(leads);
    expect(isPlain(richSchema.parse(leads))).toBe(false);
    const refused = [
      [{ type: 'heading', content: [text('no level')] }],
      [{ type: 'heading', attrs: { level: 4 }, content: [text('too deep')] }],
      [{ type: 'paragraph', content: [{ type: 'image' }] }],
      [{ type: 'paragraph', content: [{ type: 'placedInline', attrs: { tetherId: 'none' } }] }],
      [{ type: 'paragraph', content: [{ ...text('a'), marks: [{ type: 'link' }] }] }],
      [{ type: 'paragraph', content: [led('javascript:alert(1)')] }],
    ];
    for (const each of refused) expect(richSchema.safeParse(each).success).toBe(false);
    const deep = (levels: number): RichBlock =>
      levels === 0
        ? { type: 'paragraph' }
        : { type: 'bulletList', content: [{ type: 'listItem', content: [deep(levels - 1)] }] };
    expect(richSchema.safeParse([deep(5)]).success).toBe(true);
    expect(richSchema.safeParse([deep(6)]).success).toBe(false);
  });

  it('says its words, with signs and numbers of its items', () => {
    expect(richWords(written)).toBe('Of … plants live:\n1. most\n2. …\n  • fenced');
    expect(richWords(plainRich('one\n\ntwo'))).toBe('one\n\ntwo');
    expect(richWords(headed)).toBe('Alive: …\nof all');
    const figures = (id: string) => (id === ONE ? '2,160' : '84%');
    expect(richWords(written, figures)).toBe('Of 2,160 plants live:\n1. most\n2. 84%\n  • fenced');
  });

  it('is plain where it has nothing but words', () => {
    expect(isPlain(plainRich('one\ntwo'))).toBe(true);
    expect(isPlain([{ type: 'paragraph', content: [text('one', { type: 'bold' })] }])).toBe(false);
    expect(isPlain(written)).toBe(false);
    expect(isPlain([{ type: 'heading', attrs: { level: 1 }, content: [text('one')] }])).toBe(false);
  });

  it('knows its values, and has others or words in their place', () => {
    expect(tethersIn(written)).toEqual([ONE, TWO]);
    expect(tethersIn(headed)).toEqual([ONE]);
    expect(tethersIn(changeValues(headed, () => null))).toEqual([]);
    expect(tethersIn(withAtEnd(headed.slice(0, 1), valueIn(TWO!)))).toEqual([ONE, TWO]);
    const copied = changeValues(written, (id) => (id === ONE ? valueIn(TWO!) : text('84%')));
    expect(tethersIn(copied)).toEqual([TWO]);
    expect(richWords(copied)).toBe('Of … plants live:\n1. most\n2. 84%\n  • fenced');
    expect(richWords(changeValues(written, () => null))).toContain('Of  plants live:');
  });

  it('takes a value at its end', () => {
    expect(richWords(withAtEnd(plainRich('Alive: '), valueIn(ONE!)))).toBe('Alive: …');
    expect(withAtEnd([], valueIn(ONE!))).toEqual([{ type: 'paragraph', content: [valueIn(ONE!)] }]);
    expect(tethersIn(withAtEnd(written, valueIn(ONE!)))).toEqual([ONE, TWO, ONE]);
  });
});
