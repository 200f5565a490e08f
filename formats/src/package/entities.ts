const NAMED: Record<string, string> = { lt: '<', gt: '>', quot: '"', apos: "'", amp: '&' };

/** A text of an XML part as it is meant: its references to characters resolved (XML 1.0, 4.1 and 4.6). */
export function resolved(text: string): string {
  return text.replace(
    /&(?:#x([\da-f]+)|#(\d+)|(lt|gt|quot|apos|amp));/gi,
    (_, hex, digits, name) =>
      name
        ? NAMED[String(name).toLowerCase()]!
        : String.fromCodePoint(hex ? Number.parseInt(hex, 16) : Number(digits)),
  );
}
