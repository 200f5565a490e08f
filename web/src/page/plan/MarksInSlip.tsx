import type { Tether } from '@tether/contract';
import { type RowMark, rowMarks, type Snapshot } from '@tether/core';
import type { MarksThing, ViewThing } from '@tether/documents';
import { type Surface, useSurface } from '../../documents/surface.ts';
import { useSnapshotQuery } from '../../state/api.ts';
import { Button } from '../../ui/Button.tsx';
import { PageSurface } from '../surface/page-surface.ts';
import { planSize } from './PlanView.tsx';

interface Props {
  documentId: string;
  surface: Surface;
  tether: Tether;
  isAllowed: boolean;
}

/** Of a change slip: which marks in plans come and go with the rows of an object. */
export function MarksInSlip({ surface, ...props }: Props) {
  return surface instanceof PageSurface ? <InSlip surface={surface} {...props} /> : null;
}

function InSlip(props: Omit<Props, 'surface'> & { surface: PageSurface }) {
  const { surface, tether, isAllowed } = props;
  const { id, base, pending } = tether;
  const all = useSurface(surface, () =>
    surface.pages
      .things()
      .filter((thing): thing is MarksThing => thing.kind === 'marks' && thing.of === id),
  );
  const isMarked = all.length > 0 && pending !== null;
  const { data: before } = useSnapshotQuery(base, { skip: !isMarked });
  const { data: after } = useSnapshotQuery(pending ?? '', { skip: !isMarked });
  if (!isMarked || !before || !after) return null;
  return all.map((thing) => (
    <MarksOf key={thing.id} {...{ surface, thing, before, after, isAllowed }} />
  ));
}

/** Rows told of one by one; of more it is said how many there are. */
const MOST_TOLD = 20;

function MarksOf(props: {
  surface: PageSurface;
  thing: MarksThing;
  before: Snapshot;
  after: Snapshot;
  isAllowed: boolean;
}) {
  const { surface, thing, before, after, isAllowed } = props;
  const view = useSurface(surface, () => surface.pages.thing(thing.view));
  if (view?.kind !== 'view') return null;
  const { coming, going } = marksThatChange(thing, view, before, after);
  if (coming.length + going.length === 0) return null;
  const setPlace = (key: string, place: { x: number; y: number } | undefined) =>
    surface.pages.step(() => surface.pages.change(thing.id, { [`places.${key}`]: place }));
  const isFree = isAllowed && surface.shown.isFree(thing);
  return (
    <section aria-label={`Its marks in ${view.alt || 'the plan'}`} className="mt-2">
      <h4 className="font-semibold">Its marks in {view.alt || 'the plan'}</h4>
      <ul className="flex flex-col gap-1">
        {coming.slice(0, MOST_TOLD).map(({ key, place }) => (
          <li key={`+ ${key}`} className="flex items-center gap-2">
            {place ? (
              <span>“{key}” gets its mark.</span>
            ) : (
              <>
                <span className="text-behind">“{key}” has no place in the plan.</span>
                <Button
                  className="h-6"
                  disabled={!isFree}
                  onClick={() => setPlace(key, view.centre)}
                >
                  Put it in the middle of the view
                </Button>
              </>
            )}
          </li>
        ))}
        {going.slice(0, MOST_TOLD).map(({ key, isByHand }) => (
          <li key={`- ${key}`} className="flex items-center gap-2">
            <span>“{key}” goes, and its mark with it.</span>
            {isByHand && (
              <Button className="h-6" disabled={!isFree} onClick={() => setPlace(key, undefined)}>
                Forget its place
              </Button>
            )}
          </li>
        ))}
      </ul>
      {Math.max(coming.length, going.length) > MOST_TOLD && (
        <p className="text-muted">
          {coming.length} come and {going.length} go in all.
        </p>
      )}
    </section>
  );
}

/** Marks of rows that a refresh brings, and of those that it takes away. A row is the same one by its name. */
export function marksThatChange(
  thing: MarksThing,
  view: ViewThing,
  before: Snapshot,
  after: Snapshot,
): { coming: RowMark[]; going: RowMark[] } {
  const size = planSize(view);
  const [old, next] = [before, after].map((each) => rowMarks(each, thing, size).marks) as [
    RowMark[],
    RowMark[],
  ];
  const without = (all: RowMark[], others: RowMark[]) => {
    const known = new Set(others.map(({ key }) => key));
    return all.filter(({ key }) => !known.has(key));
  };
  return { coming: without(next, old), going: without(old, next) };
}
