import type { Tether } from '@tether/contract';
import { type Box, boundsOf, crowdingOf } from '@tether/core';
import type { Thing } from '@tether/documents';
import { Lock } from 'lucide-react';
import type { KeyboardEvent } from 'react';
import { PanelFold } from '../documents/PanelFold.tsx';
import { useSurface } from '../documents/surface.ts';
import type { PageSurface } from './page-surface.ts';
import { THING_WORDS } from './ThingFields.tsx';

/** What a thing is called in lists. */
function nameOfThing(thing: Thing, tethers: ReadonlyMap<string, Tether>): string {
  switch (thing.kind) {
    case 'object':
      return tethers.get(thing.tetherId)?.name ?? THING_WORDS.object;
    case 'text':
      return thing.text.trim().split('\n')[0]?.slice(0, 60) || THING_WORDS.text;
    case 'picture':
      return thing.alt.trim() || THING_WORDS.picture;
    default:
      return THING_WORDS[thing.kind];
  }
}

/** All things of the page, front first, to be walked and chosen by keys and by those who do not see the page. */
export function OutlineFold(props: { surface: PageSurface; objects: readonly Tether[] }) {
  const { surface, objects } = props;
  const things = useSurface(surface, () => surface.thingsHere().toReversed());
  const chosen = useSurface(surface, () => [...surface.chosenIds()]);
  const names = new Map(objects.map((tether) => [tether.id, tether]));
  const onKeyDown = (event: KeyboardEvent, at: number) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (!step) return;
    event.preventDefault();
    const next = things[at + step];
    if (!next) return;
    if (event.shiftKey) surface.choose([...chosen, next.id]);
    else surface.choose([next.id]);
    const list = event.currentTarget.closest('ul');
    list?.querySelectorAll<HTMLButtonElement>('button')[at + step]?.focus();
  };
  return (
    <PanelFold title="On this page" note={things.length === 0 ? 'nothing' : String(things.length)}>
      {things.length === 0 && (
        <p className="text-muted">Place an object, or draw with the rail at the left.</p>
      )}
      <ul aria-label="Things on this page" className="max-h-[280px] overflow-y-auto empty:hidden">
        {things.map((thing, at) => {
          const isChosen = chosen.includes(thing.id);
          const isFirst = chosen.length === 0 ? at === 0 : thing.id === chosen[0];
          return (
            <li key={thing.id}>
              <button
                type="button"
                aria-pressed={isChosen}
                tabIndex={isFirst ? 0 : -1}
                onKeyDown={(event) => onKeyDown(event, at)}
                onClick={(event) => {
                  if (!event.shiftKey) surface.choose([thing.id]);
                  else if (isChosen) surface.choose(chosen.filter((id) => id !== thing.id));
                  else surface.choose([...chosen, thing.id]);
                  surface.showThing(thing.id);
                }}
                className={`flex min-h-6 w-full items-center gap-2 rounded-box border px-1.5 py-0.5 text-left ${isChosen ? 'border-rope bg-rope/15' : 'border-transparent hover:bg-mist'}`}
              >
                <span className="min-w-0 flex-1 truncate">{nameOfThing(thing, names)}</span>
                {thing.isLocked && <Lock size={12} aria-label="locked" />}
                <span className="text-sm text-muted">{THING_WORDS[thing.kind]}</span>
              </button>
            </li>
          );
        })}
      </ul>
    </PanelFold>
  );
}

/** Objects of the page that stand where they should not. */
export function CrowdingNotes(props: {
  surface: PageSurface;
  objects: readonly Tether[];
  /** What is kept free beside the things themselves, by the words it is called by. */
  kept: readonly { id: string; box: Box }[];
}) {
  const { surface, objects, kept } = props;
  const found = useSurface(surface, () => {
    const page = surface.page();
    const { width, height } = surface.size(page);
    const places = surface.places();
    const here = surface
      .thingsHere()
      .flatMap((thing) =>
        thing.kind === 'object' && !thing.field
          ? [{ id: thing.id, box: boundsOf(places.get(thing.id)!) }]
          : [],
      );
    const around = { page: { x: 0, y: 0, width, height }, space: surface.space(page) };
    return crowdingOf(here, kept, around);
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
                surface.choose([each.id]);
                surface.showThing(each.id);
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
