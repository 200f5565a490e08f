/** A text as it stands in an element; what XML cannot hold is left out visibly. */
export function escaped(text: string): string {
  return (
    text
      // biome-ignore lint/suspicious/noControlCharactersInRegex: these are what XML 1.0 cannot hold
      .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '\ufffd')
      .replaceAll('&', '&amp;')
      .replaceAll('<', '&lt;')
      .replaceAll('>', '&gt;')
  );
}

/** A text as it stands in an attribute between double quotes. */
export function escapedValue(text: string): string {
  return escaped(text)
    .replaceAll('"', '&quot;')
    .replace(/[\n\r\t]/g, (sign) => `&#${sign.charCodeAt(0)};`);
}
