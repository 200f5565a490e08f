/**
 * A page as it is laid out in the browser, written as SVG (W3C SVG 1.1): texts stay texts, each line as wide as it is on the
 * page whatever typeface a program has; lines and areas are vectors; pictures and typefaces lie in the file. Asks nothing of
 * any other server.
 */

const SVG = 'http://www.w3.org/2000/svg';
const XLINK = 'http://www.w3.org/1999/xlink';

/** Properties that say how something inside an SVG looks: they may come from the page's styles. */
const DRAWN_PROPERTIES = [
  'fill',
  'fill-opacity',
  'stroke',
  'stroke-opacity',
  'stroke-width',
  'stroke-dasharray',
  'stroke-linecap',
  'stroke-linejoin',
  'opacity',
  'font-family',
  'font-size',
  'font-weight',
  'font-style',
  'text-anchor',
  'dominant-baseline',
] as const;

interface Writing {
  /** Where the page begins on the screen. */
  left: number;
  top: number;
  /** What is referred to: windows, shades. */
  defs: SVGDefsElement;
  /** Letters that each typeface sets, by `fontKey`. */
  letters: Map<string, Set<string>>;
  names: number;
}

/** The page in `element`, `size` millimetres large, as the text of an SVG file. */
export async function svgOfPage(
  element: HTMLElement,
  size: { width: number; height: number },
  title: string,
): Promise<string> {
  const box = element.getBoundingClientRect();
  const root = make('svg', {
    width: `${size.width}mm`,
    height: `${size.height}mm`,
    viewBox: `0 0 ${box.width} ${box.height}`,
  });
  root.setAttribute('xmlns', SVG);
  root.setAttributeNS('http://www.w3.org/2000/xmlns/', 'xmlns:xlink', XLINK);
  const named = make('title');
  named.textContent = title;
  const defs = make('defs');
  root.append(named, defs);
  const writing = { left: box.left, top: box.top, defs, letters: new Map(), names: 0 };
  await write(element, root, writing);
  const faces = await facesFor(writing.letters);
  if (faces) {
    const style = make('style');
    style.textContent = faces;
    defs.prepend(style);
  }
  return `<?xml version="1.0" encoding="UTF-8"?>\n${new XMLSerializer().serializeToString(root)}`;
}

function make<K extends keyof SVGElementTagNameMap>(
  name: K,
  attributes: Record<string, string | number | undefined> = {},
): SVGElementTagNameMap[K] {
  const made = document.createElementNS(SVG, name);
  for (const [each, value] of Object.entries(attributes)) {
    if (value === undefined) continue;
    made.setAttribute(each, typeof value === 'number' ? short(value) : value);
  }
  return made;
}

/** Thousandths of a pixel are far below what can be seen. */
const short = (value: number) => String(Math.round(value * 1000) / 1000);

async function write(element: Element, into: SVGElement, writing: Writing): Promise<void> {
  const style = getComputedStyle(element);
  if (style.display === 'none' || style.opacity === '0') return;
  // Turned as it stands: what it holds is laid out as if it were not.
  if (element instanceof HTMLElement && style.transform !== 'none') {
    const kept = element.style.transform;
    const { a, b, c, d, e, f } = new DOMMatrix(style.transform);
    const [x = 0, y = 0] = style.transformOrigin.split(' ').map(Number.parseFloat);
    element.style.transform = 'none';
    const box = element.getBoundingClientRect();
    const [left, top] = [box.left - writing.left + x, box.top - writing.top + y];
    const turned = make('g', {
      transform: `translate(${short(left)} ${short(top)}) matrix(${[a, b, c, d, e, f].map((each) => each.toFixed(6)).join(' ')}) translate(${short(-left)} ${short(-top)})`,
    });
    into.append(turned);
    await write(element, turned, writing);
    element.style.transform = kept;
    return;
  }
  const isSeen = style.visibility === 'visible';
  const box = element.getBoundingClientRect();
  const place = {
    x: box.left - writing.left,
    y: box.top - writing.top,
    width: box.width,
    height: box.height,
  };
  let group = into;
  if (element instanceof HTMLAnchorElement && element.href) {
    group = make('a', { href: element.href });
    into.append(group);
  }
  if (style.opacity !== '1' || style.filter.startsWith('grayscale')) {
    const dimmed = make('g', style.opacity === '1' ? {} : { opacity: style.opacity });
    if (style.filter.startsWith('grayscale')) dimmed.setAttribute('filter', greyed(writing));
    group.append(dimmed);
    group = dimmed;
  }
  if (element instanceof SVGSVGElement) {
    if (isSeen) group.append(drawing(element, place, writing));
    return;
  }
  if (isSeen) paintBox(style, place, group, writing);
  if (element instanceof HTMLImageElement) {
    if (isSeen && element.currentSrc) {
      const image = make('image', { ...place, preserveAspectRatio: 'none' });
      image.setAttributeNS(XLINK, 'xlink:href', await asData(element.currentSrc));
      group.append(image);
    }
    return;
  }
  if (element instanceof HTMLCanvasElement) {
    const image = make('image', { ...place, preserveAspectRatio: 'none' });
    image.setAttributeNS(XLINK, 'xlink:href', element.toDataURL('image/png'));
    group.append(image);
    return;
  }
  const inside = style.overflowX === 'visible' ? group : cut(group, place, writing);
  for (const child of element.childNodes) {
    if (child instanceof Text) {
      if (isSeen) writeText(child, style, inside, writing);
    } else if (child instanceof Element) await write(child, inside, writing);
  }
}

interface Place {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** A group of which only what lies in the box is seen. */
function cut(into: SVGElement, place: Place, writing: Writing): SVGElement {
  const id = `window-${++writing.names}`;
  const clip = make('clipPath', { id });
  clip.append(make('rect', { ...place }));
  writing.defs.append(clip);
  const group = make('g', { 'clip-path': `url(#${id})` });
  into.append(group);
  return group;
}

/** The name of the filter that takes out colours, as CSS does it (W3C Filter Effects, grayscale). */
function greyed({ defs }: Writing): string {
  if (!defs.querySelector('#grey')) {
    const filter = make('filter', { id: 'grey', 'color-interpolation-filters': 'sRGB' });
    filter.append(make('feColorMatrix', { type: 'saturate', values: '0' }));
    defs.append(filter);
  }
  return 'url(#grey)';
}

const isClear = (colour: string) => colour === 'transparent' || /,\s*0\)$|\/\s*0\)$/.test(colour);

/** Ground, shades and borders of a box. */
function paintBox(
  style: CSSStyleDeclaration,
  place: Place,
  into: SVGElement,
  writing: Writing,
): void {
  const radius = Number.parseFloat(style.borderTopLeftRadius) || 0;
  const rounded = radius > 0 ? { rx: radius } : {};
  if (!isClear(style.backgroundColor)) {
    into.append(make('rect', { ...place, ...rounded, fill: style.backgroundColor }));
  }
  // The first of several lies on top.
  for (const image of topLevel(style.backgroundImage).reverse()) {
    const shade = shadeOf(image, place, writing);
    if (shade) into.append(make('rect', { ...place, fill: shade }));
  }
  const { x, y, width, height } = place;
  // Cells of one table share their borders: these lie on their edges.
  const isShared = style.borderCollapse === 'collapse' && style.display.startsWith('table-');
  const sides = [
    { side: 'Top', from: [x, y], to: [x + width, y], inward: [0, 1] },
    { side: 'Right', from: [x + width, y], to: [x + width, y + height], inward: [-1, 0] },
    { side: 'Bottom', from: [x, y + height], to: [x + width, y + height], inward: [0, -1] },
    { side: 'Left', from: [x, y], to: [x, y + height], inward: [1, 0] },
  ] as const;
  for (const { side, from, to, inward } of sides) {
    const thick = Number.parseFloat(style[`border${side}Width`]);
    const kind = style[`border${side}Style`];
    const colour = style[`border${side}Color`];
    if (thick === 0 || kind === 'none' || kind === 'hidden' || isClear(colour)) continue;
    const by = isShared ? 0 : thick / 2;
    const strokes = { dashed: `${thick * 3} ${thick * 2}`, dotted: `${thick} ${thick}` }[kind];
    into.append(
      make('line', {
        x1: from[0] + inward[0] * by,
        y1: from[1] + inward[1] * by,
        x2: to[0] + inward[0] * by,
        y2: to[1] + inward[1] * by,
        stroke: colour,
        'stroke-width': thick,
        ...(strokes ? { 'stroke-dasharray': strokes } : {}),
      }),
    );
  }
}

/** Parts of a list that commas part, but for those within brackets. */
function topLevel(list: string): string[] {
  const parts: string[] = [];
  let [depth, from] = [0, 0];
  for (let at = 0; at <= list.length; at++) {
    const letter = list[at];
    if (letter === '(') depth++;
    else if (letter === ')') depth--;
    else if ((letter === ',' && depth === 0) || at === list.length) {
      parts.push(list.slice(from, at).trim());
      from = at + 1;
    }
  }
  return parts;
}

/** A shade from left to right, such as the bar in a cell; null for everything else. */
function shadeOf(image: string, place: Place, writing: Writing): string | null {
  const found = /^linear-gradient\(to right, (.*)\)$/.exec(image);
  if (!found) return null;
  const id = `shade-${++writing.names}`;
  const shade = make('linearGradient', { id });
  for (const stop of topLevel(found[1]!)) {
    const colour = /^(?:rgba?\([^)]*\)|#\w+|\w+)/.exec(stop)?.[0] ?? '';
    const share = Number.parseFloat(/(-?[\d.]+)%/.exec(stop)?.[1] ?? '0') / 100;
    const pixels = /(-\s*)?([\d.]+)px/.exec(stop);
    const more = pixels ? (Number(pixels[2]) * (pixels[1] ? -1 : 1)) / place.width : 0;
    // What is clear has no colour of its own to shade from.
    const clear = isClear(colour) ? { 'stop-opacity': 0 } : {};
    const offset = Math.min(1, Math.max(0, share + more));
    shade.append(make('stop', { offset, 'stop-color': colour, ...clear }));
  }
  writing.defs.append(shade);
  return `url(#${id})`;
}

/** An SVG of the page, at its place, with everything that the page's styles say of it written into it. */
function drawing(element: SVGSVGElement, place: Place, writing: Writing): SVGElement {
  const copy = element.cloneNode(true) as SVGSVGElement;
  const [there, here] = [[...element.querySelectorAll('*')], [...copy.querySelectorAll('*')]];
  for (const [at, each] of there.entries()) {
    const style = getComputedStyle(each);
    const to = here[at]!;
    if (style.display === 'none') {
      to.remove();
      continue;
    }
    for (const property of DRAWN_PROPERTIES) {
      const value = style.getPropertyValue(property);
      if (value !== '') to.setAttribute(property, value);
    }
    for (const name of [...to.getAttributeNames()]) {
      if (name === 'class' || name === 'style' || name.startsWith('aria-'))
        to.removeAttribute(name);
    }
    if (each instanceof SVGTextContentElement) {
      const text = [...each.childNodes].find((child) => child instanceof Text);
      if (text) note(writing, style, text.data);
    }
  }
  for (const [name, value] of Object.entries(place)) copy.setAttribute(name, short(value));
  const isWhole = getComputedStyle(element).overflow === 'visible';
  for (const name of ['class', 'style', 'aria-hidden', 'role']) copy.removeAttribute(name);
  if (isWhole) copy.setAttribute('overflow', 'visible');
  return copy;
}

const sizeOfLetters = (() => {
  let pen: CanvasRenderingContext2D | null = null;
  return (style: CSSStyleDeclaration) => {
    pen ??= document.createElement('canvas').getContext('2d')!;
    pen.font = `${style.fontStyle} ${style.fontWeight} ${style.fontSize} ${style.fontFamily}`;
    const { fontBoundingBoxAscent, fontBoundingBoxDescent } = pen.measureText('');
    return { up: fontBoundingBoxAscent, down: fontBoundingBoxDescent };
  };
})();

/** The lines that a text stands in, each as it is read. */
function linesOf(text: Text): { words: string; box: DOMRect }[] {
  const range = document.createRange();
  range.selectNodeContents(text);
  const count = new Set([...range.getClientRects()].map(({ top, left }) => `${top} ${left}`)).size;
  if (count === 0) return [];
  if (count === 1) {
    return [{ words: text.data, box: range.getBoundingClientRect() }];
  }
  const lines: { words: string; box: DOMRect }[] = [];
  const letters = [...text.data];
  let [from, at, top] = [0, 0, Number.NaN];
  const end = (to: number) => {
    if (to <= from) return;
    range.setStart(text, from);
    range.setEnd(text, to);
    lines.push({ words: text.data.slice(from, to), box: range.getBoundingClientRect() });
    from = to;
  };
  for (const letter of letters) {
    range.setStart(text, at);
    range.setEnd(text, at + letter.length);
    const box = range.getBoundingClientRect();
    // A space at the end of a line is nowhere.
    if (box.height > 0 && letter.trim() !== '') {
      if (Math.abs(box.top - top) > box.height / 2) end(at);
      top = box.top;
    }
    at += letter.length;
  }
  end(at);
  return lines;
}

function writeText(
  text: Text,
  style: CSSStyleDeclaration,
  into: SVGElement,
  writing: Writing,
): void {
  if (text.data.trim() === '') return;
  const { up, down } = sizeOfLetters(style);
  const keepsSpaces = style.whiteSpaceCollapse.startsWith('preserve');
  for (const { words, box } of linesOf(text)) {
    const read = keepsSpaces ? words.replace(/[\r\n]/g, '') : words.replace(/\s+/g, ' ').trim();
    if (read.trim() === '' || box.width === 0) continue;
    const shown = style.textTransform === 'uppercase' ? read.toUpperCase() : read;
    const isUpright = style.writingMode.startsWith('vertical');
    const [x, y] = [box.left - writing.left, box.top - writing.top];
    // The box of a line is as high as the typeface: it stands in its middle where lines are looser.
    const [long, across] = isUpright ? [box.height, box.width] : [box.width, box.height];
    const baseline = (across - up - down) / 2 + up;
    const at = isUpright
      ? { transform: `translate(${short(x + box.width - baseline)} ${short(y)}) rotate(90)` }
      : { x, y: y + baseline };
    const line = make('text', {
      ...at,
      'font-family': style.fontFamily,
      'font-size': Number.parseFloat(style.fontSize),
      'font-weight': style.fontWeight,
      'font-style': style.fontStyle,
      fill: style.color,
      textLength: long,
      lengthAdjust: 'spacingAndGlyphs',
    });
    const under = style.textDecorationLine;
    if (under !== 'none') line.setAttribute('text-decoration', under);
    if (style.fontVariantNumeric !== 'normal') {
      line.setAttribute('style', `font-variant-numeric:${style.fontVariantNumeric}`);
    }
    if (keepsSpaces) {
      line.setAttributeNS('http://www.w3.org/XML/1998/namespace', 'xml:space', 'preserve');
    }
    line.textContent = shown;
    into.append(line);
    note(writing, style, shown);
  }
}

function note({ letters }: Writing, style: CSSStyleDeclaration, words: string): void {
  for (const family of style.fontFamily.split(',')) {
    const name = bare(family);
    const known = letters.get(name) ?? new Set();
    for (const letter of words) known.add(letter);
    letters.set(name, known);
  }
}

const bare = (family: string) => family.trim().replace(/^["']|["']$/g, '');

/** The typefaces that set these letters, with their bytes. */
async function facesFor(letters: ReadonlyMap<string, ReadonlySet<string>>): Promise<string> {
  const rules = [...document.styleSheets].flatMap((sheet) =>
    [...sheet.cssRules].filter((rule) => rule instanceof CSSFontFaceRule),
  );
  const written: string[] = [];
  for (const { style } of rules) {
    const family = bare(style.getPropertyValue('font-family'));
    const used = letters.get(family);
    const ranges = rangesOf(style.getPropertyValue('unicode-range'));
    const isUsed = [...(used ?? [])].some((letter) => {
      const code = letter.codePointAt(0)!;
      return ranges.some(([from, to]) => code >= from && code <= to);
    });
    const source = /url\("?([^")]+)"?\)/.exec(style.getPropertyValue('src'))?.[1];
    if (!isUsed || !source) continue;
    const address = new URL(source, document.baseURI).href;
    const [weight, slant] = ['font-weight', 'font-style'].map((each) =>
      style.getPropertyValue(each),
    );
    written.push(
      `@font-face{font-family:"${family}";font-weight:${weight || 'normal'};font-style:${slant || 'normal'};src:url(${await asData(address)}) format("woff2")}`,
    );
  }
  return written.join('\n');
}

/** Code points as `unicode-range` says them; all where it says none. */
function rangesOf(words: string): [number, number][] {
  if (words.trim() === '') return [[0, 0x10ffff]];
  return words.split(',').map((part) => {
    const [from = '0', to = from] = part.trim().replace(/^U\+/i, '').split('-');
    return [
      Number.parseInt(from.replace(/\?/g, '0'), 16),
      Number.parseInt(to.replace(/\?/g, 'F'), 16),
    ];
  });
}

/** What lies at an address of this server, as an address that holds it. */
async function asData(address: string): Promise<string> {
  if (address.startsWith('data:')) return address;
  const blob = await (await fetch(address)).blob();
  return new Promise((done, failed) => {
    const reader = new FileReader();
    reader.onload = () => done(String(reader.result));
    reader.onerror = () => failed(reader.error);
    reader.readAsDataURL(blob);
  });
}
