import { parseXml, type XmlElement } from '../package/xml.ts';

/** A part of a drawing that can be shown or not: a named group of it. */
export interface DrawingLayer {
  /** Where it stands in its file, which never changes: numbers of groups from the outside in, `1.3`. */
  key: string;
  name: string;
}

/** More are no layers but parts of a drawing. */
const MOST = 200;
/** What lies beside groups and draws nothing (SVG 1.1, 5.3 to 5.5, 21). */
const DRAWS_NOTHING = new Set(['defs', 'title', 'desc', 'metadata', 'style', 'symbol']);

/**
 * The layers of an SVG: its outermost groups that have a name, those within where all of it lies in one. A group is named by
 * its title (SVG 1.1, 5.4), its label (WAI-ARIA), a label that the program that made it gave it, or its id. None for what is
 * no SVG.
 */
export function drawingLayers(bytes: Buffer): DrawingLayer[] {
  let root: XmlElement;
  try {
    root = parseXml(bytes);
  } catch {
    return [];
  }
  if (root.name !== 'svg') return [];
  return layersIn(root, '').slice(0, MOST);
}

function layersIn(element: XmlElement, path: string): DrawingLayer[] {
  const drawn = element.children.filter(({ name }) => !DRAWS_NOTHING.has(name));
  const groups = element.children.filter(({ name }) => name === 'g');
  if (drawn.length === 1 && groups.length === 1) {
    const inside = layersIn(groups[0]!, `${path}1.`);
    if (inside.length > 0) return inside;
  }
  return groups.flatMap((group, at) => {
    const name = nameOf(group);
    return name === null ? [] : [{ key: `${path}${at + 1}`, name }];
  });
}

function nameOf({ attributes, children }: XmlElement): string | null {
  const title = children.find(({ name }) => name === 'title')?.text.trim();
  const label = Object.entries(attributes).find(
    ([name]) => name === 'aria-label' || name.endsWith(':label'),
  )?.[1];
  const name = title || label?.trim() || attributes.id?.trim();
  return name ? name.slice(0, 120) : null;
}

/** The drawing without some of its layers: they are in it, and are not shown. As it is where it is no SVG. */
export function withoutLayers(bytes: Buffer, keys: readonly string[]): Buffer {
  const known = new Set(drawingLayers(bytes).map(({ key }) => key));
  const selectors = keys
    .filter((key) => known.has(key))
    .map((key) => {
      const groups = key.split('.').map((nth) => `g:nth-of-type(${nth})`);
      return `:root>${groups.join('>')}`;
    });
  if (selectors.length === 0) return bytes;
  const text = bytes.toString();
  const end = text.lastIndexOf('</');
  return Buffer.from(
    `${text.slice(0, end)}<style>${selectors.join(',')}{display:none!important}</style>${text.slice(end)}`,
  );
}
