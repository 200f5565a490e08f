import { describe, expect, it } from '@jest/globals';
import { asCopies } from './as-copies.ts';
import type { ReportContent } from './content.ts';
import { reportPlacements } from './placements.ts';
import { reportSettings } from './settings.ts';

const first = '11111111-1111-4111-8111-111111111111';
const second = '22222222-2222-4222-8222-222222222222';
let made = 0;
const content: ReportContent = {
  type: 'doc',
  attrs: { footer: { left: `{#${first}} of {page}`, middle: '', right: '' } },
  content: [
    { type: 'paragraph', content: [{ type: 'reference', attrs: { to: first } }] },
    {
      type: 'captioned',
      attrs: { kind: 'table', of: first },
      content: [
        { type: 'placedObject', attrs: { tetherId: first } },
        {
          type: 'caption',
          content: [{ type: 'placedInline', attrs: { tetherId: second, form: 'value' } }],
        },
      ],
    },
    { type: 'paragraph', content: [{ type: 'reference', attrs: { to: 'gone' } }] },
  ],
};

describe('a text for a document of its own', () => {
  const copy = asCopies(
    content,
    () => `00000000-0000-4000-8000-${String(++made).padStart(12, '0')}`,
  );
  const [object, value] = reportPlacements(copy);

  it('marks every object as a copy, also one within a caption', () => {
    expect([object!.copyOf, value!.copyOf]).toEqual([first, second]);
    expect(new Set([object!.tetherId, value!.tetherId, first, second]).size).toBe(4);
  });

  it('lets references, captions and feet name the copies', () => {
    expect(copy.content[0]!.content![0]!.attrs).toEqual({ to: object!.tetherId });
    expect(copy.content[1]!.attrs).toEqual({ kind: 'table', of: object!.tetherId });
    expect(reportSettings(copy).footer.left).toBe(`{#${object!.tetherId}} of {page}`);
  });

  it('leaves a reference to an object that is gone as it is', () => {
    expect(copy.content[2]!.content![0]!.attrs).toEqual({ to: 'gone' });
  });
});
