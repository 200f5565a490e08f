/** The value of an attribute, as written. */
export function attributeIn(tag: string, name: string): string | null {
  const match = new RegExp(`\\s${name}\\s*=\\s*(?:"([^"]*)"|'([^']*)')`).exec(tag);
  return match ? (match[1] ?? match[2] ?? '') : null;
}

/** A tag, or its attributes, with another value of one of them, or without it. */
export function withAttribute(tag: string, name: string, value: string | null): string {
  const said = new RegExp(`\\s${name}\\s*=\\s*(?:"[^"]*"|'[^']*')`);
  if (value === null) return tag.replace(said, '');
  if (said.test(tag)) return tag.replace(said, () => ` ${name}="${value}"`);
  const end = /\s*\/?>$/.exec(tag)?.[0] ?? '';
  return `${tag.slice(0, tag.length - end.length).trimEnd()} ${name}="${value}"${end}`;
}
