import { Cleat } from '../../documents/object/Cleat.tsx';
import { useDressing } from '../../documents/object/dressings.ts';
import { TagFace, ValueFace } from '../../documents/object/InlineFaces.tsx';
import { useSurface } from '../../documents/surface.ts';
import { DrawnOrFault } from '../../placed/DrawnOrFault.tsx';
import { useAppDispatch } from '../../state/store.ts';
import { usePlacedTether } from '../../state/usePlacedTether.ts';
import { objectSelected, panelShown } from '../../state/workbench-slice.ts';
import type { PageSurface } from '../surface/page-surface.ts';

/** A value or tag in a line of a text on a page. */
export function InlineValue(props: { documentId: string; surface: PageSurface; tetherId: string }) {
  const { documentId, surface, tetherId } = props;
  const dispatch = useAppDispatch();
  const thing = useSurface(surface, () => surface.pages.objectThing(tetherId));
  const isChosen = useSurface(surface, () => surface.shown.chosenObject() === tetherId);
  const tether = usePlacedTether(documentId, { tetherId, copyOf: thing?.copyOf ?? null });
  const dressing = useDressing(surface.shown.dressings, tetherId);
  // One that was taken out is nothing any more.
  if (!thing) return null;
  const choose = () => {
    surface.shown.choose([thing.id]);
    dispatch(objectSelected(tetherId));
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: its cleat is the button that does the same
    <span
      data-tether-id={tetherId}
      className={`placed-inline relative ${isChosen ? 'outline-2 outline-offset-2 outline-rope' : ''}`}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.stopPropagation();
        choose();
      }}
    >
      {tether ? (
        <>
          <DrawnOrFault isInline resetKeys={[tether.shown, thing, dressing]}>
            {thing.form === 'tag' ? (
              <TagFace tether={tether} />
            ) : (
              <ValueFace tether={tether} dressing={dressing} />
            )}
          </DrawnOrFault>
          <Cleat
            tether={tether}
            place="line"
            onClick={() => {
              choose();
              dispatch(panelShown(true));
            }}
          />
        </>
      ) : (
        <span className="text-muted">…</span>
      )}
    </span>
  );
}
