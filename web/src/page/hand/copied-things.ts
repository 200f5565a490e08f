import { type Placement, placementSchema, type Thing, thingSchema } from '@tether/documents';
import { z } from 'zod';
import type { PageSurface } from '../surface/page-surface.ts';
import { STEP_ASIDE } from '../surface/stands.ts';
import { screenOf } from '../things/thing-screens.tsx';

const MARK = 'data-things';
const copiedSchema = z.array(z.unknown()).max(2_000);

/** Puts things on the clipboard: for our pages as they are, for other programs their words. */
export function writeCopiedThings(
  clipboard: DataTransfer,
  surface: PageSurface,
  things: readonly Thing[],
): void {
  const whole = surface.texts
    .withValues(things)
    .map((thing) =>
      thing.kind === 'object'
        ? { ...thing, dressing: surface.shown.dressings.of(thing.tetherId) }
        : thing,
    );
  const holder = document.createElement('div');
  holder.setAttribute(MARK, JSON.stringify(whole));
  const words: string[] = [];
  for (const thing of things) {
    const said = wordsOf(thing, surface);
    if (said !== '') words.push(said);
    const line = document.createElement(thing.kind === 'object' ? 'div' : 'p');
    if (thing.kind === 'object') {
      // As texts of ours have their objects, so that it can be pasted into one.
      line.setAttribute('data-tether', thing.tetherId);
      line.setAttribute('data-form', JSON.stringify(thing.form));
      line.setAttribute(
        'data-dressing',
        JSON.stringify(surface.shown.dressings.of(thing.tetherId)),
      );
    }
    line.textContent = said;
    holder.append(line);
  }
  clipboard.setData('text/html', holder.outerHTML);
  clipboard.setData('text/plain', words.join('\n'));
}

/** What a thing says in words: a text its own with its figures, an object what stands in its cells on the page. */
function wordsOf(thing: Thing, surface: PageSurface): string {
  const drawn = surface.element.querySelector(`[data-thing="${thing.id}"]`);
  return screenOf(thing).said?.(thing, drawn) ?? '';
}

/**
 * The things on the clipboard as new ones for the page that is shown, beside where they stood; null where there are none.
 * What was cut comes back with its own tether; what still stands somewhere gets one of its own.
 */
export function readCopiedThings(clipboard: DataTransfer, surface: PageSurface): Thing[] | null {
  const html = clipboard.getData('text/html');
  if (!html.includes(MARK) && !html.includes(' data-tether=')) return null;
  const page = new DOMParser().parseFromString(html, 'text/html');
  const holder = page.querySelector(`[${MARK}]`);
  if (!holder) return objectsOfText(page, surface);
  const read = copiedSchema.safeParse(parsed(holder.getAttribute(MARK) ?? ''));
  if (!read.success) return null;
  const things = read.data.flatMap((each) => {
    const thing = thingSchema.safeParse(each);
    return thing.success ? [thing.data] : [];
  });
  if (things.length === 0) return null;
  const isHere = things.some(({ id }) => surface.pages.thing(id) !== null);
  const by = isHere ? STEP_ASIDE : 0;
  const standing = new Set(surface.objects());
  // What was cut out here is the same object still.
  const isCut = (tetherId: string) => surface.isKnown(tetherId) && !standing.has(tetherId);
  return surface.steps.copiesOf(things, { x: by, y: by }, isCut);
}

/** Millimetres between objects that come out of a text one below the other. */
const GAP = 5;

/** The objects of a piece of one of our texts, one below the other; null where it has none. */
function objectsOfText(page: Document, surface: PageSurface): Thing[] | null {
  const placed = [...page.querySelectorAll('[data-tether]')].flatMap((element): Placement[] => {
    const read = placementSchema.safeParse({
      tetherId: element.getAttribute('data-tether'),
      form: parsed(element.getAttribute('data-form') ?? ''),
      dressing: parsed(element.getAttribute('data-dressing') ?? '') ?? {},
    });
    return read.success ? [read.data] : [];
  });
  if (placed.length === 0) return null;
  const { x, y } = surface.shown.nextPlace();
  let above: string | null = null;
  return placed.map(({ tetherId, form, dressing }) => {
    const fresh = surface.shown.fresh();
    const thing = thingSchema.parse({
      ...{ ...fresh, kind: 'object', x, y, tetherId: crypto.randomUUID(), copyOf: tetherId },
      ...{ form, dressing, below: above === null ? null : { of: above, gap: GAP } },
    });
    above = fresh.id;
    return thing;
  });
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
