import { describe, expect, it } from '@jest/globals';
import { type Layer, layerSchema, type Thing, thingSchema } from '@tether/documents';
import { onLayer, ThingsOnLayers } from './layers.ts';

const id = (nth: number) => `00000000-0000-4000-8000-${String(nth).padStart(12, '0')}`;
const place = { id: id(1), page: id(2), order: 0, layer: id(3), x: 0, y: 0 };
const line = thingSchema.parse({
  ...{ ...place, kind: 'line', line: 0.25, colour: '#10242b' },
  points: [
    { x: 0, y: 0 },
    { x: 9, y: 0 },
  ],
});
const picture = thingSchema.parse({
  ...{ ...place, kind: 'picture', hash: '0'.repeat(64), width: 9, height: 9 },
  ...{ pixelWidth: 9, pixelHeight: 9 },
});
const layer = (says: Partial<Layer> = {}): Layer =>
  layerSchema.parse({ id: id(3), name: 'Set out', order: 0, ...says });

describe('a thing on its layer', () => {
  it('is drawn in the colour and with the lines of its layer, where that has any', () => {
    expect(onLayer(line, layer())).toEqual({ thing: line, isOffPaper: false });
    expect(onLayer(line, layer({ colour: '#b3261e' }))?.thing).toMatchObject({
      colour: '#b3261e',
      line: 0.25,
    });
    expect(onLayer(line, layer({ line: 0.7 }))?.thing).toMatchObject({
      colour: '#10242b',
      line: 0.7,
    });
    // A picture has neither lines nor a colour of its own.
    expect(onLayer(picture, layer({ colour: '#b3261e', line: 0.7 }))?.thing).toEqual(picture);
  });

  it('is not seen where the layer is hidden, and seen but not printed where that says so', () => {
    expect(onLayer(line, layer({ isVisible: false }))).toBeNull();
    expect(onLayer(line, layer({ isPrinted: false }))?.isOffPaper).toBe(true);
    expect(onLayer(line, undefined)).toEqual({ thing: line, isOffPaper: false });
  });

  it('is the same value until it or a layer changes, so that only what changed is drawn anew', () => {
    const all = new ThingsOnLayers();
    all.setLayers([layer({ colour: '#b3261e' })]);
    const first = all.of(line);
    all.setLayers([layer({ colour: '#b3261e' })]);
    expect(all.of(line)).toBe(first);
    all.setLayers([layer({ colour: '#1f7a5c' })]);
    expect(all.of(line)?.thing).toMatchObject({ colour: '#1f7a5c' });
    // A layer that is gone does nothing.
    all.setLayers([]);
    expect(all.of(line)?.thing).toBe(line);
    const hidden: Thing = { ...line };
    all.setLayers([layer({ isVisible: false })]);
    expect([all.of(hidden), all.of(hidden)]).toEqual([null, null]);
  });
});
