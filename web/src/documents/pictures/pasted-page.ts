/** A page of another program, made ready for a text. */
export interface PastedPage {
  html: string;
  /** Pictures that came along in it, in their order; where each belongs stands `<img data-coming="0">` and so on. */
  pictures: File[];
  /** How many pictures lie somewhere else, where nothing can be fetched from. */
  elsewhere: number;
}

const KINDS = ['image/png', 'image/jpeg', 'image/webp', 'image/svg+xml'];

/**
 * What a page of another program says in the words of ours: lists that are paragraphs with a sign before them, headings
 * deeper than ours, letters that are raised or sunk by their style, cells of a heading row, notes and pictures. Empty
 * paragraphs, which only keep others apart, go. Null for our own texts, which need nothing.
 */
export function readPage(html: string): PastedPage | null {
  if (html === '' || html.includes('data-pm-slice')) return null;
  const page = new DOMParser().parseFromString(html, 'text/html');
  const { body } = page;
  for (const each of body.querySelectorAll('style, script, meta, title, xml')) each.remove();
  makeLists(page);
  for (const heading of body.querySelectorAll('h4, h5, h6')) rename(page, heading, 'h3');
  raise(page);
  makeHeads(page);
  for (const each of body.querySelectorAll('p, div')) {
    const isEmpty = !each.textContent?.replace(/\u00a0/g, ' ').trim();
    if (isEmpty && !each.querySelector('img, table, hr')) each.remove();
  }
  const { pictures, elsewhere } = takePictures(body);
  return { html: body.innerHTML, pictures, elsewhere };
}

/** Programs for writing put lists on the clipboard as paragraphs that name a list and a level in their style. */
function makeLists(page: Document): void {
  const items = [...page.body.querySelectorAll<HTMLElement>('p')].filter((each) =>
    /mso-list:\s*l\d/i.test(each.getAttribute('style') ?? ''),
  );
  let open: { list: HTMLElement; level: number }[] = [];
  let before: Element | null = null;
  for (const item of items) {
    const style = item.getAttribute('style') ?? '';
    const level = Number(/level(\d+)/i.exec(style)?.[1] ?? 1);
    const sign = item.querySelector<HTMLElement>('[style*="mso-list"]');
    const tag = /^\s*[\da-z]{1,4}[.)]/i.test(sign?.textContent ?? '') ? 'ol' : 'ul';
    sign?.remove();
    // Another paragraph between two items ends a list.
    if (before === null || item.previousElementSibling !== before) open = [];
    open = open.filter((each) => each.level <= level);
    let here = open.at(-1);
    if (!here || here.level < level) {
      const list = page.createElement(tag);
      const parent = here?.list.lastElementChild;
      if (parent) parent.append(list);
      else item.before(list);
      here = { list, level };
      open.push(here);
    }
    const entry = page.createElement('li');
    const line = page.createElement('p');
    line.append(...item.childNodes);
    entry.append(line);
    here.list.append(entry);
    item.remove();
    before = open[0]!.list;
  }
}

/** Letters that are small and raised or sunk by their style alone. */
function raise(page: Document): void {
  for (const each of page.body.querySelectorAll<HTMLElement>('[style*="vertical-align"]')) {
    const tag = { super: 'sup', sub: 'sub' }[each.style.verticalAlign];
    if (!tag || each.closest('td, th') === each) continue;
    const small = page.createElement(tag);
    small.append(...each.childNodes);
    each.append(small);
  }
}

/** The rows of a table's head are heads whatever their cells are called. */
function makeHeads(page: Document): void {
  for (const cell of page.body.querySelectorAll('thead td')) rename(page, cell, 'th');
}

function rename(page: Document, element: Element, tag: string): void {
  const other = page.createElement(tag);
  for (const { name, value } of element.attributes) other.setAttribute(name, value);
  other.append(...element.childNodes);
  element.replaceWith(other);
}

function takePictures(body: HTMLElement): Pick<PastedPage, 'pictures' | 'elsewhere'> {
  const pictures: File[] = [];
  let elsewhere = 0;
  for (const image of body.querySelectorAll('img')) {
    const file = fileIn(image.getAttribute('src') ?? '', pictures.length + 1);
    if (!file) {
      // A sign of one dot counts what was read, and shows nothing.
      if (image.width > 2 || image.height > 2 || image.width === 0) elsewhere++;
      image.remove();
      continue;
    }
    image.removeAttribute('src');
    image.setAttribute('data-coming', String(pictures.push(file) - 1));
    // A picture stands between paragraphs: one that has a paragraph to itself would leave that behind empty.
    let around = image.parentElement;
    while (
      around &&
      around !== body &&
      around.childElementCount === 1 &&
      !around.textContent?.trim()
    ) {
      if (!['P', 'DIV', 'SPAN', 'A', 'FIGURE'].includes(around.tagName)) break;
      const outer = around.parentElement;
      around.replaceWith(image);
      around = outer;
    }
  }
  return { pictures, elsewhere };
}

/** The picture that an address holds in itself; null where it leads somewhere. */
function fileIn(address: string, nth: number): File | null {
  const match = /^data:([^;,]+)(;[^,]*)?,(.*)$/s.exec(address);
  const kind = match?.[1]?.toLowerCase() ?? '';
  if (!match || !KINDS.includes(kind)) return null;
  try {
    const isBase64 = match[2]?.includes('base64');
    const letters = isBase64 ? atob(match[3]!) : decodeURIComponent(match[3]!);
    const bytes = isBase64
      ? Uint8Array.from(letters, (sign) => sign.charCodeAt(0))
      : new TextEncoder().encode(letters);
    return new File([bytes], `picture ${nth}`, { type: kind });
  } catch {
    return null;
  }
}

/** The page with its pictures as the server has them; those that it refused are left out. */
export function withPictures(
  { html }: PastedPage,
  taken: readonly ({ hash: string; width: number; height: number } | null)[],
): string {
  const page = new DOMParser().parseFromString(html, 'text/html');
  for (const image of page.body.querySelectorAll('img[data-coming]')) {
    const picture = taken[Number(image.getAttribute('data-coming'))];
    if (!picture) {
      image.remove();
      continue;
    }
    image.removeAttribute('data-coming');
    image.setAttribute('data-picture', picture.hash);
    image.setAttribute('data-pixel-width', String(picture.width));
    image.setAttribute('data-pixel-height', String(picture.height));
  }
  return page.body.innerHTML;
}
