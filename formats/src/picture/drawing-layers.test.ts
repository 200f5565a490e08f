import { describe, expect, it } from '@jest/globals';
import { drawingLayers, withoutLayers } from './drawing-layers.ts';
import { readPicture } from './picture.ts';

const svg = (inner: string) =>
  Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" width="120" height="80">${inner}</svg>`);

describe('layers of a drawing', () => {
  it('are its outermost groups that have a name', () => {
    const plan = svg(
      '<defs><g id="sign"/></defs><g id="marsh"><g id="reeds"/></g><path d="M0 0h9"/><g/><g id="g3"><title>Decking</title></g><g aria-label="Creek"/>',
    );
    // The second group has no name: it is counted, and not offered.
    expect(drawingLayers(plan)).toEqual([
      { key: '1', name: 'marsh' },
      { key: '3', name: 'Decking' },
      { key: '4', name: 'Creek' },
    ]);
  });

  it('are those within where all of it lies in one group', () => {
    const plan = svg('<title>Plan</title><g transform="scale(2)"><g id="a"/><g id="b"/></g>');
    expect(drawingLayers(plan).map(({ key }) => key)).toEqual(['1.1', '1.2']);
    expect(drawingLayers(svg('<g id="only"><path d="M0 0h9"/></g>'))).toEqual([
      { key: '1', name: 'only' },
    ]);
  });

  it('are none in what is no drawing', () => {
    expect(drawingLayers(Buffer.from('GIF89a'))).toEqual([]);
    expect(drawingLayers(Buffer.from('<html><g id="a"/></html>'))).toEqual([]);
    expect(drawingLayers(svg('<path d="M0 0h9"/>'))).toEqual([]);
  });
});

describe('a drawing without some of its layers', () => {
  const plan = svg('<g id="marsh"/><g id="decking"/>');

  it('says which of its groups are not shown, and is the same drawing otherwise', () => {
    const less = withoutLayers(plan, ['2']).toString();
    expect(less).toContain('<style>:root>g:nth-of-type(2){display:none!important}</style></svg>');
    expect(less.replace(/<style>.*<\/style>/, '')).toBe(plan.toString());
    // Still a drawing that a document may hold.
    expect(readPicture(Buffer.from(less)).ok).toBe(true);
  });

  it('is as it was for layers that it does not have', () => {
    expect(withoutLayers(plan, ['9', '1}*{x', ''])).toBe(plan);
    expect(withoutLayers(Buffer.from('GIF89a'), ['1']).toString()).toBe('GIF89a');
  });
});
