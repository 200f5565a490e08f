/** What the fields of a head or foot stand for on one page. */
export interface LineFields {
  page: number;
  pages: number;
  title: string;
  /** What objects show, by tether. */
  values: ReadonlyMap<string, string>;
}

/** A head or foot as a page shows it: `{page}`, `{pages}`, `{title}` and values of objects filled in. */
export function fillLine(line: string, { page, pages, title, values }: LineFields): string {
  return line.replace(/\{([^{}]*)\}/g, (whole, field: string) => {
    if (field === 'page') return String(page);
    if (field === 'pages') return String(pages);
    if (field === 'title') return title;
    if (field.startsWith('#')) return values.get(field.slice(1)) ?? '–';
    return whole;
  });
}

/** As a person writes it: objects by their names. Names that two objects share stand for the first. */
export function lineForEditing(
  line: string,
  objects: readonly { id: string; name: string }[],
): string {
  return line.replace(/\{#([^{}]*)\}/g, (whole, id: string) => {
    const found = objects.find((each) => each.id === id);
    return found ? `{${found.name}}` : whole;
  });
}

/** As it is kept: objects by their tethers, so that it holds when they are renamed. */
export function lineFromEditing(
  line: string,
  objects: readonly { id: string; name: string }[],
): string {
  return line.replace(/\{([^{}#]+)\}/g, (whole, name: string) => {
    const found = objects.find((each) => each.name === name.trim());
    return found ? `{#${found.id}}` : whole;
  });
}
