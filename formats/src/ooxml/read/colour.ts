import { child, parseXml, type XmlElement } from '../../package/xml.ts';

/** The indexed colours (ECMA-376 Part 1, 18.8.27), 8 to 63; 0 to 7 are the same as 8 to 15. */
const INDEXED = `
  000000 FFFFFF FF0000 00FF00 0000FF FFFF00 FF00FF 00FFFF 800000 008000 000080 808000 800080 008080 C0C0C0 808080
  9999FF 993366 FFFFCC CCFFFF 660066 FF8080 0066CC CCCCFF 000080 FF00FF FFFF00 00FFFF 800080 800000 008080 0000FF
  00CCFF CCFFFF CCFFCC FFFF99 99CCFF FF99CC CC99FF FFCC99 3366FF 33CCCC 99CC00 FFCC00 FF9900 FF6600 666699 969696
  003366 339966 003300 333300 993300 993366 333399 333333
`
  .trim()
  .split(/\s+/);

/** Theme colours in the order in which `theme="n"` counts them: the first two pairs are swapped against the part. */
const THEME_ORDER = [
  'lt1',
  'dk1',
  'lt2',
  'dk2',
  'accent1',
  'accent2',
  'accent3',
  'accent4',
  'accent5',
  'accent6',
  'hlink',
  'folHlink',
];

/** Resolves the colours of a workbook: plain, indexed or by theme, with tint. */
export class Palette {
  private readonly theme: (string | undefined)[];

  /** `theme`: the bytes of the theme part; `indexed`: the workbook's own indexed colours, where it has some. */
  constructor(
    theme: Buffer | null,
    private readonly indexed: string[] = [],
  ) {
    const scheme = theme ? child(child(parseXml(theme), 'themeElements'), 'clrScheme') : undefined;
    this.theme = THEME_ORDER.map((name) => {
      const colour = child(scheme, name)?.children[0]?.attributes;
      return (colour?.lastClr ?? colour?.val)?.toUpperCase();
    });
  }

  /** The colour a CT_Color element means (18.8.19), `#RRGGBB`, or undefined for none or automatic. */
  resolve(element: XmlElement | undefined): string | undefined {
    if (!element) return undefined;
    const { rgb, indexed, theme, tint } = element.attributes;
    let hex: string | undefined;
    if (rgb !== undefined) hex = rgb.slice(-6).toUpperCase();
    else if (theme !== undefined) hex = this.theme[Number(theme)];
    else if (indexed !== undefined) hex = this.byIndex(Number(indexed));
    if (hex === undefined || !/^[0-9A-F]{6}$/.test(hex)) return undefined;
    return `#${tint === undefined ? hex : tinted(hex, Number(tint))}`;
  }

  /** A colour of the theme by its name in the scheme (DrawingML, 20.1.10.54), `#RRGGBB`. */
  named(name: string): string | undefined {
    const alias = { bg1: 'lt1', tx1: 'dk1', bg2: 'lt2', tx2: 'dk2' }[name] ?? name;
    const hex = this.theme[THEME_ORDER.indexOf(alias)];
    return hex === undefined || !/^[0-9A-F]{6}$/.test(hex) ? undefined : `#${hex}`;
  }

  private byIndex(index: number): string | undefined {
    // 64 and 65 are the system's own foreground and background (18.8.27): automatic.
    if (index >= 64) return undefined;
    return (this.indexed[index] ?? INDEXED[index < 8 ? index : index - 8])?.slice(-6).toUpperCase();
  }
}

/**
 * A colour made darker (tint below 0) or lighter (above 0) by changing its luminance in the HLS space
 * (ECMA-376 Part 1, 18.8.19, tint): `L * (1 + tint)` or `L * (1 - tint) + (1 - (1 - tint))`.
 */
export function tinted(hex: string, tint: number): string {
  if (!tint) return hex;
  const [r, g, b] = [0, 2, 4].map((at) => Number.parseInt(hex.slice(at, at + 2), 16) / 255) as [
    number,
    number,
    number,
  ];
  const max = Math.max(r, g, b);
  const min = Math.min(r, g, b);
  const spread = max - min;
  const light = (max + min) / 2;
  const saturation = spread === 0 ? 0 : spread / (1 - Math.abs(2 * light - 1));
  let hue = 0;
  if (spread > 0) {
    if (max === r) hue = ((g - b) / spread + 6) % 6;
    else if (max === g) hue = (b - r) / spread + 2;
    else hue = (r - g) / spread + 4;
  }
  const target = tint < 0 ? light * (1 + tint) : light * (1 - tint) + tint;
  const chroma = (1 - Math.abs(2 * target - 1)) * saturation;
  const second = chroma * (1 - Math.abs((hue % 2) - 1));
  const base = target - chroma / 2;
  const sextants = [
    [chroma, second, 0],
    [second, chroma, 0],
    [0, chroma, second],
    [0, second, chroma],
    [second, 0, chroma],
    [chroma, 0, second],
  ];
  return sextants[Math.min(5, Math.floor(hue))]!.map((part) =>
    Math.round(Math.min(1, Math.max(0, part + base)) * 255)
      .toString(16)
      .padStart(2, '0'),
  )
    .join('')
    .toUpperCase();
}
