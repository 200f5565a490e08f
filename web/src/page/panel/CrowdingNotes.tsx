import type { Tether } from '@tether/contract';
import { boundsOf, crowdingOf, type Point } from '@tether/core';
import { useSurface } from '../../documents/surface.ts';
import type { PageSurface } from '../surface/page-surface.ts';
import { nameOfThing } from '../surface/thing-words.ts';

const moved = ({ x, y }: Point, by: Point): Point => ({ x: x + by.x, y: y + by.y });

/** Objects of the page that stand where they should not. */
export function CrowdingNotes(props: {
  surface: PageSurface;
  objects: readonly Tether[];
  /** The one thing that is asked about; all where it is left out. */
  of?: string;
}) {
  const { surface, objects, of } = props;
  const found = useSurface(surface, () => {
    const page = surface.shown.page();
    const { width, height } = surface.shown.size(page);
    const places = surface.boxes.all();
    const here = surface.shown.thingsHere().flatMap((thing) => {
      if (thing.kind !== 'object' || thing.field || surface.texts.textOf(thing)) return [];
      const { id } = thing;
      const place = places.get(id)!;
      const pulled = surface.boxes.partsOf(id).flatMap(({ place: own, size }) =>
        // A turned object turns its parts along: where these are then is not reckoned with.
        own && place.turn === 0 ? [{ id, box: { ...moved(place, own), ...size } }] : [],
      );
      return [{ id, box: boundsOf(place) }, ...pulled];
    });
    const around = { page: { x: 0, y: 0, width, height }, space: surface.shown.space(page) };
    const all = crowdingOf(here, surface.kind.kept(page), around).filter(
      (each) => of === undefined || each.id === of || ('other' in each && each.other === of),
    );
    // Of an object and its parts each is told once.
    return [...new Map(all.map((each) => [JSON.stringify(each), each])).values()];
  });
  if (found.length === 0) return null;
  const names = new Map(objects.map((tether) => [tether.id, tether]));
  const name = (id: string) => {
    const thing = surface.pages.thing(id);
    return thing ? `“${nameOfThing(thing, names)}”` : id;
  };
  return (
    <section aria-label="Where objects have no room" className="border-b border-hairline p-4">
      <h3 className="mb-1 text-sm font-semibold text-behind">Where objects have no room</h3>
      <ul className="flex flex-col gap-1">
        {found.map((each) => (
          <li key={`${each.id} ${each.kind} ${'other' in each ? each.other : ''}`}>
            <button
              type="button"
              className="text-left underline decoration-hairline hover:decoration-ink"
              onClick={() => {
                surface.shown.choose([each.id]);
                surface.shown.showThing(each.id);
              }}
            >
              {name(each.id)}{' '}
              {each.kind === 'off the page'
                ? 'goes off the page.'
                : each.kind === 'over the frame'
                  ? 'goes over the frame.'
                  : `stands over ${name(each.other)}.`}
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
