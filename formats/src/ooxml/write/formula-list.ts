/** A cell whose formula goes, by the id of its sheet (`sheetId`, 18.2.19). */
export interface FreedCell {
  sheetId: string;
  ref: string;
}

/**
 * The calculation chain (ECMA-376 Part 1, 18.6.1) without some cells: one that is named there and has no formula spoils the
 * file for programs that trust it. Null where nothing is left, since the chain may not be empty. An entry without a sheet
 * (`i`) has that of the one before it, so that the next one may need it said.
 */
export function withoutFormulas(chain: string, freed: readonly FreedCell[]): string | null {
  const gone = new Set(freed.map(({ sheetId, ref }) => `${sheetId} ${ref}`));
  let sheet = '';
  /** The sheet that is said last in what is kept. */
  let said = '';
  let kept = 0;
  const text = chain.replace(
    /<((?:[A-Za-z_][\w.-]*:)?c)((?:\s[^>]*?)?)\/>/g,
    (whole: string, name: string, attributes: string) => {
      const own = /\si\s*=\s*["'](\d+)["']/.exec(attributes)?.[1];
      if (own !== undefined) sheet = own;
      const ref = /\sr\s*=\s*["']([^"']+)["']/.exec(attributes)?.[1] ?? '';
      if (gone.has(`${sheet} ${ref}`)) return '';
      kept++;
      const needsSheet = own === undefined && sheet !== said;
      said = sheet;
      return needsSheet ? `<${name}${attributes} i="${sheet}"/>` : whole;
    },
  );
  return kept === 0 ? null : text;
}
