import type { Tether } from '@tether/contract';
import { Lock } from 'lucide-react';
import type { KeyboardEvent } from 'react';
import { PanelFold } from '../../documents/PanelFold.tsx';
import { useSurface } from '../../documents/surface.ts';
import type { PageSurface } from '../surface/page-surface.ts';
import { kindWords, nameOfThing } from '../surface/thing-words.ts';

/** All things of the page, front first, to be walked and chosen by keys and by those who do not see the page. */
export function OutlineFold(props: { surface: PageSurface; objects: readonly Tether[] }) {
  const { surface, objects } = props;
  const things = useSurface(surface, () => surface.shown.thingsHere().toReversed());
  const chosen = useSurface(surface, () => [...surface.shown.chosenIds()]);
  const names = new Map(objects.map((tether) => [tether.id, tether]));
  const onKeyDown = (event: KeyboardEvent, at: number) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (!step) return;
    event.preventDefault();
    const next = things[at + step];
    if (!next) return;
    if (event.shiftKey) surface.shown.choose([...chosen, next.id]);
    else surface.shown.choose([next.id]);
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
                  if (!event.shiftKey) surface.shown.choose([thing.id]);
                  else if (isChosen) surface.shown.choose(chosen.filter((id) => id !== thing.id));
                  else surface.shown.choose([...chosen, thing.id]);
                  surface.shown.showThing(thing.id);
                }}
                className={`flex min-h-6 w-full items-center gap-2 rounded-box border px-1.5 py-0.5 text-left ${isChosen ? 'border-rope bg-rope/15' : 'border-transparent hover:bg-mist'}`}
              >
                <span className="min-w-0 flex-1 truncate">{nameOfThing(thing, names)}</span>
                {thing.isLocked && <Lock size={12} aria-label="locked" />}
                <span className="text-sm text-muted">{kindWords(thing)}</span>
              </button>
            </li>
          );
        })}
      </ul>
    </PanelFold>
  );
}
