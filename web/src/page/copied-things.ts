import { type Thing, thingSchema } from '@tether/documents';
import { z } from 'zod';
import type { PageSurface } from './page-surface.ts';

const MARK = 'data-things';
const copiedSchema = z.array(z.unknown()).max(2_000);
/** Millimetres that pasted things stand beside where they were copied from. */
const ASIDE = 5;

/** Puts things on the clipboard: for our pages as they are, for other programs their words. */
export function writeCopiedThings(
  clipboard: DataTransfer,
  surface: PageSurface,
  things: readonly Thing[],
): void {
  const whole = things.map((thing) =>
    thing.kind === 'object' ? { ...thing, dressing: surface.dressings.of(thing.tetherId) } : thing,
  );
  const holder = document.createElement('div');
  holder.setAttribute(MARK, JSON.stringify(whole));
  const words = things.map((thing) => wordsOf(thing, surface)).filter((each) => each !== '');
  for (const each of words) {
    const line = document.createElement('p');
    line.textContent = each;
    holder.append(line);
  }
  clipboard.setData('text/html', holder.outerHTML);
  clipboard.setData('text/plain', words.join('\n'));
}

/** What a thing says in words: a text its own, an object what stands in its cells on the page. */
function wordsOf(thing: Thing, surface: PageSurface): string {
  if (thing.kind === 'text') return thing.text;
  if (thing.kind !== 'object') return '';
  const drawn = surface.element.querySelector(`[data-thing="${thing.id}"]`);
  const rows = [...(drawn?.querySelectorAll('tr') ?? [])].map((row) =>
    [...row.querySelectorAll('th, td')].map((cell) => cell.textContent ?? '').join('\t'),
  );
  return rows.length > 0
    ? rows.join('\n')
    : (drawn?.querySelector('.page-value')?.textContent ?? '');
}

/**
 * The things on the clipboard as new ones for the page that is shown, beside where they stood; null where there are none.
 * What was cut comes back with its own tether; what still stands somewhere gets one of its own.
 */
export function readCopiedThings(clipboard: DataTransfer, surface: PageSurface): Thing[] | null {
  const html = clipboard.getData('text/html');
  if (!html.includes(MARK)) return null;
  const holder = new DOMParser().parseFromString(html, 'text/html').querySelector(`[${MARK}]`);
  const read = copiedSchema.safeParse(parsed(holder?.getAttribute(MARK) ?? ''));
  if (!read.success) return null;
  const things = read.data.flatMap((each) => {
    const thing = thingSchema.safeParse(each);
    return thing.success ? [thing.data] : [];
  });
  if (things.length === 0) return null;
  const isHere = things.some(({ id }) => surface.pages.thing(id) !== null);
  const by = isHere ? ASIDE : 0;
  return surface.copiesOf(things, { x: by, y: by }).map((copy, at) => {
    const from = things[at]!;
    if (copy.kind !== 'object' || from.kind !== 'object') return copy;
    const isCut = surface.isKnown(from.tetherId) && !surface.objects().includes(from.tetherId);
    return isCut ? { ...copy, tetherId: from.tetherId, copyOf: from.copyOf ?? null } : copy;
  });
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
