import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import opentype from 'opentype.js';
import { ROOT } from './setup/paths.mjs';

/**
 * Writes `core/src/look/fonts/advances.ts`: the advance width of every character of the fonts that tables are set in, read from
 * the font files that ship with the application. Run it after the fonts were updated: `npm run fonts:measure`.
 */
const FAMILIES = {
  Carlito: 'carlito',
  Arimo: 'arimo',
  'Source Serif 4': 'source-serif-4',
  'Source Sans 3': 'source-sans-3',
};
const FACES = ['400-normal', '700-normal', '400-italic', '700-italic'];
const SUBSETS = ['latin', 'latin-ext', 'greek', 'cyrillic', 'cyrillic-ext'];
/** Blocks of Unicode that are measured: Latin, Greek, Cyrillic, punctuation, currency, arrows, mathematical signs. */
const BLOCKS = [
  [0x20, 0x24f],
  [0x370, 0x4ff],
  [0x2000, 0x206f],
  [0x20a0, 0x20bf],
  [0x2100, 0x22ff],
  [0x25a0, 0x25ff],
];

/** Advances of a face in thousandths of the letter size, as `first character:widths` of unbroken runs. */
function measure(folder, face) {
  const widths = new Map();
  let ascent = 0;
  let descent = 0;
  for (const subset of SUBSETS) {
    const path = join(
      ROOT,
      `node_modules/@fontsource/${folder}/files/${folder}-${subset}-${face}.woff`,
    );
    if (!existsSync(path)) continue;
    const bytes = readFileSync(path);
    const font = opentype.parse(
      bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength),
    );
    const scale = 1000 / font.unitsPerEm;
    const { tnum } = tabular(font);
    ascent = Math.round(font.tables.hhea.ascender * scale);
    descent = Math.round(-font.tables.hhea.descender * scale);
    for (const [first, last] of BLOCKS) {
      for (let code = first; code <= last; code++) {
        const index = font.charToGlyphIndex(String.fromCodePoint(code));
        if (index === 0 || widths.has(code)) continue;
        const glyph = font.glyphs.get(tnum.get(index) ?? index);
        widths.set(code, Math.round(glyph.advanceWidth * scale));
      }
    }
  }
  const runs = [];
  let before = -2;
  for (const code of [...widths.keys()].sort((a, b) => a - b)) {
    if (code !== before + 1) runs.push({ first: code, list: [] });
    runs.at(-1).list.push(widths.get(code).toString(36));
    before = code;
  }
  const text = runs.map(({ first, list }) => `${first.toString(36)}:${list.join(',')}`).join(';');
  return { text, ascent, descent };
}

/** Figures of equal width, where a font has them apart (`tnum`): tables are set in them. */
function tabular(font) {
  const tnum = new Map();
  const found = font.substitution.getSingle('tnum') ?? [];
  for (const { sub, by } of found) tnum.set(sub, by);
  return { tnum };
}

const lines = [];
for (const [family, folder] of Object.entries(FAMILIES)) {
  for (const face of FACES) {
    const { text, ascent, descent } = measure(folder, face);
    const [weight, slant] = face.split('-');
    const key = `${family}|${weight === '700' ? 'b' : ''}${slant === 'italic' ? 'i' : ''}`;
    lines.push(`  '${key}': [${ascent}, ${descent}, '${text}'],`);
  }
}
writeFileSync(
  join(ROOT, 'core/src/look/fonts/advances.ts'),
  `// Made by tools/font-advances.mjs out of the font files that ship with the application.
/** Of each face: ascent, descent and the advances of its characters, in thousandths of the letter size (base 36). */
export const ADVANCES: Record<string, readonly [ascent: number, descent: number, widths: string]> = {
${lines.join('\n')}
};
`,
);
