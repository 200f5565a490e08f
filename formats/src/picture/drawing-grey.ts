import { colord, extend } from 'colord';
import namesPlugin from 'colord/plugins/names';

extend([namesPlugin]);

/** Properties of SVG that are colours (SVG 1.1, 11.13.1 and 15). */
const COLOURS = 'fill|stroke|color|stop-color|flood-color|lighting-color';
const ATTRIBUTE = new RegExp(`(\\s(?:${COLOURS})\\s*=\\s*)("[^"]*"|'[^']*')`, 'g');
const DECLARATION = new RegExp(`((?:^|[;{"'\\s])(?:${COLOURS})\\s*:\\s*)([^;}"'!]+)`, 'g');

/** Whether a drawing is lines and areas alone: pictures within it keep their colours. */
export function isLinesOnly(bytes: Buffer): boolean {
  return !/<(\w+:)?image[\s>/]/.test(bytes.toString());
}

/**
 * A drawing in shades of grey, its lines still lines: each colour as light as it is (W3C Filter Effects Module Level 1,
 * 13.1.2, `grayscale`, whose shares are those of ITU-R BT.709). What is no colour, such as a reference, stays.
 */
export function inGrey(bytes: Buffer): Buffer {
  // Only tags and styles: words that read like a colour are words.
  const text = bytes.toString().replace(TAG_OR_STYLE, (part) =>
    part
      .replace(ATTRIBUTE, (_, name: string, quoted: string) => {
        const quote = quoted[0]!;
        return `${name}${quote}${greyOf(quoted.slice(1, -1))}${quote}`;
      })
      .replace(DECLARATION, (_, name: string, value: string) => `${name}${greyOf(value)}`),
  );
  return Buffer.from(text);
}

const TAG_OR_STYLE = /<style[\s>][\s\S]*?<\/style>|<[a-zA-Z][^>]*>/g;

function greyOf(value: string): string {
  const colour = colord(value.trim());
  if (!colour.isValid()) return value;
  const { r, g, b, a } = colour.toRgb();
  const grey = Math.round(0.2126 * r + 0.7152 * g + 0.0722 * b);
  return a === 1
    ? colord({ r: grey, g: grey, b: grey }).toHex()
    : `rgba(${grey},${grey},${grey},${a})`;
}
