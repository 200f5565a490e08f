import type { Layer, Thing } from '@tether/documents';

/** What a layer does with a thing on it. */
export interface OnLayer {
  /** As it is drawn: in the colour and with the lines of its layer where that has any. */
  thing: Thing;
  /** It is seen while it is worked on, and not printed. */
  isOffPaper: boolean;
}

/** What the layer without a name is called. */
export const USUAL_LAYER = 'the usual one';

/** A thing on its layer; null where it is hidden. The usual layer, which has no name, does nothing. */
export function onLayer(thing: Thing, layer: Layer | undefined): OnLayer | null {
  if (!layer) return { thing, isOffPaper: false };
  if (!layer.isVisible) return null;
  const own = 'colour' in thing && layer.colour !== null ? { colour: layer.colour } : {};
  const line = 'line' in thing && layer.line !== null ? { line: layer.line } : {};
  const isPlain = Object.keys(own).length + Object.keys(line).length === 0;
  return {
    thing: isPlain ? thing : ({ ...thing, ...own, ...line } as Thing),
    isOffPaper: !layer.isPrinted,
  };
}

/** Things on their layers, each the same value for as long as neither it nor a layer changes. */
export class ThingsOnLayers {
  private layers: { said: string; byId: Map<string, Layer> } = { said: '[]', byId: new Map() };
  private known = new WeakMap<Thing, OnLayer | 'hidden'>();

  /** Told of the layers whenever they may have changed. */
  setLayers(layers: readonly Layer[]): void {
    const said = JSON.stringify(layers);
    if (said === this.layers.said) return;
    this.layers = { said, byId: new Map(layers.map((layer) => [layer.id, layer])) };
    this.known = new WeakMap();
  }

  of(thing: Thing): OnLayer | null {
    const known = this.known.get(thing);
    if (known) return known === 'hidden' ? null : known;
    const found = onLayer(
      thing,
      thing.layer === null ? undefined : this.layers.byId.get(thing.layer),
    );
    this.known.set(thing, found ?? 'hidden');
    return found;
  }

  layer(id: string | null): Layer | undefined {
    return id === null ? undefined : this.layers.byId.get(id);
  }
}
