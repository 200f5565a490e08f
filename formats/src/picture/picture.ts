import { fail, ok, type Result } from '@tether/core';
import { imageSize } from 'image-size';
import { parseXml, type XmlElement } from '../package/xml.ts';

/** Kinds of pictures that a document can hold, as media types (RFC 2046; WebP is RFC 9649, SVG the W3C's). */
export const PICTURE_TYPES = ['image/png', 'image/jpeg', 'image/webp', 'image/svg+xml'] as const;
export type PictureType = (typeof PICTURE_TYPES)[number];

/** What a picture is, told from its bytes: what a name or a browser says of them counts for nothing. */
export interface Picture {
  type: PictureType;
  /** Pixels; of an SVG those of its own unit. */
  width: number;
  height: number;
}

/** Units of true lengths (CSS Values and Units Level 4, 6.2): a pixel is a dot, whatever it is called. */
const TRUE_LENGTH = /\d\s*(mm|cm|q|in|pt|pc)\s*$/i;

/** Whether a drawing says how large it is in truth; a picture of dots never does. */
export function saysItsSize(bytes: Buffer): boolean {
  try {
    const { name, attributes } = parseXml(bytes);
    return name === 'svg' && TRUE_LENGTH.test(attributes.width ?? '');
  } catch {
    return false;
  }
}

const TYPE_OF: Partial<Record<string, PictureType>> = {
  png: 'image/png',
  jpg: 'image/jpeg',
  webp: 'image/webp',
  svg: 'image/svg+xml',
};
/** Pixels of a side: more than any printer needs, and than a browser draws. */
const MOST_PIXELS = 16_384;
/** Of a side of an SVG: some ten kilometres in true millimetres. */
const MOST_OF_LINES = 40_000_000;
/** A browser holds four bytes for each pixel that it draws: more than this make whole pages stall. */
const MOST_PIXELS_IN_ALL = 60_000_000;

/**
 * Reads what a picture is. Faults: `picture-unknown` for what is none that is known here, `picture-too-large` for more pixels
 * than can be drawn, `picture-unsafe` for an SVG that holds more than a drawing.
 */
export function readPicture(bytes: Uint8Array): Result<Picture> {
  let found: ReturnType<typeof imageSize>;
  try {
    found = imageSize(bytes);
  } catch {
    return fail('picture-unknown');
  }
  const type = TYPE_OF[found.type ?? ''];
  if (!type) return fail('picture-unknown');
  // A camera that was held upright says so beside the picture (EXIF 2.32, orientation 5 to 8), and browsers turn it.
  const isTurned = (found.orientation ?? 1) >= 5;
  const [width, height] = isTurned ? [found.height, found.width] : [found.width, found.height];
  if (!(width > 0 && height > 0)) return fail('picture-unknown');
  // An SVG has lines, not pixels: a plan drawn in true millimetres is large, and costs no more than a small one.
  const most = type === 'image/svg+xml' ? MOST_OF_LINES : MOST_PIXELS;
  if (width > most || height > most) {
    return fail('picture-too-large', { most: `${most.toLocaleString('en')} pixels a side` });
  }
  if (type !== 'image/svg+xml' && width * height > MOST_PIXELS_IN_ALL) {
    const millions = MOST_PIXELS_IN_ALL / 1e6;
    return fail('picture-too-large', { most: `${millions} million pixels` });
  }
  if (type === 'image/svg+xml') {
    const held = unsafeIn(bytes);
    if (held !== null) return fail('picture-unsafe', { held });
  }
  return ok({ type, width, height });
}

/** Elements of SVG 2 that run something, or show something that is no drawing. */
const UNSAFE = new Set([
  'script',
  'foreignObject',
  'iframe',
  'object',
  'embed',
  'audio',
  'video',
  'canvas',
  'handler',
  'listener',
  'set',
  'animate',
  'animateMotion',
  'animateTransform',
]);
/** What a drawing may point at: a part of itself, or a picture within it. */
const OWN = /^\s*(#|data:image\/(png|jpeg|webp|gif);)/i;

/** What an SVG holds that is no drawing; null if it is one and nothing else. */
function unsafeIn(bytes: Uint8Array): string | null {
  let root: XmlElement;
  try {
    root = parseXml(Buffer.from(bytes));
  } catch {
    return 'it is not well-formed, or declares a document type';
  }
  const look = ({ name, attributes, children, text }: XmlElement): string | null => {
    const local = name.slice(name.indexOf(':') + 1);
    if (UNSAFE.has(local)) return `<${local}>`;
    if (local === 'style' && pointsAway(text)) return 'a style that loads something';
    for (const [key, value] of Object.entries(attributes)) {
      const own = key.slice(key.indexOf(':') + 1).toLowerCase();
      if (own.startsWith('on')) return `“${own}”`;
      if ((own === 'href' || own === 'src') && !OWN.test(value)) return 'a link';
      if (pointsAway(value)) return 'a style that loads something';
    }
    for (const each of children) {
      const held = look(each);
      if (held !== null) return held;
    }
    return null;
  };
  return look(root);
}

/** Whether a style loads something from elsewhere. */
function pointsAway(style: string): boolean {
  if (/@import/i.test(style)) return true;
  return [...style.matchAll(/url\(\s*['"]?([^'")]*)/gi)].some(([, to]) => !OWN.test(to ?? ''));
}
