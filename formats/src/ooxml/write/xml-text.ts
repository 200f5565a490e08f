/** Text in XML; what XML cannot hold is written as `_xHHHH_` (22.9.2.19). */
export function escaped(text: string): string {
  return (
    text
      .replace(/_(?=x[\da-fA-F]{4}_)/g, '_x005F_')
      // biome-ignore lint/suspicious/noControlCharactersInRegex: these are what XML 1.0 leaves out
      .replace(
        /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g,
        (sign) => `_x${sign.charCodeAt(0).toString(16).toUpperCase().padStart(4, '0')}_`,
      )
      .replaceAll('&', '&amp;')
      .replaceAll('<', '&lt;')
      .replaceAll('>', '&gt;')
      .replaceAll('\r', '&#13;')
  );
}
