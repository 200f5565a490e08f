import type { Tether } from '@tether/contract';
import { type MouseEvent, useEffect, useMemo, useRef, useState } from 'react';
import type { Surface } from '../documents/surface.ts';
import type { GridView } from '../sources/SheetGrid.tsx';
import { useAppSelector } from '../state/store.ts';
import { CordRig } from './cord-rig.ts';
import type { ObjectCells } from './useObjectCells.ts';

interface Props {
  surface: Surface;
  objects: Tether[];
  cells: ReadonlyMap<string, ObjectCells>;
  view: GridView | null;
  /** The sheet that stands beside the document. */
  shown: { sourceId: string | null; sheet: string | null };
  onObject: (tetherId: string) => void;
  onCells: (tether: Tether) => void;
}

/**
 * The cords between objects and their cells, over document and source. A press on a cord goes to the end that it is
 * nearer to. With the keyboard the same is done at the ends: by the cleat of the object, by the label of its cells.
 */
export function Cords({ surface, objects, cells, view, shown, onObject, onCells }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const [rig, setRig] = useState<CordRig | null>(null);
  const selected = useAppSelector(({ workbench }) => workbench.selected);

  useEffect(() => {
    const text = surface.element.closest<HTMLElement>('[data-scroll]');
    if (!svg.current || !text) return;
    const made = new CordRig(svg.current, text);
    const again = () => made.rearranged();
    const forget = surface.subscribe(again);
    // What comes into view late, such as a chart, moves what stands below it.
    const observer = new MutationObserver(again);
    observer.observe(surface.element, { childList: true, subtree: true, attributes: true });
    setRig(made);
    return () => {
      forget();
      observer.disconnect();
      made.close();
      setRig(null);
    };
  }, [surface]);

  const lines = useMemo(
    () =>
      objects.map((tether) => ({
        tetherId: tether.id,
        sourceId: tether.source.id,
        standing: tether.standing,
        behindBy: tether.behindBy,
        edits: tether.editCount,
        cells: cells.get(tether.id),
      })),
    [objects, cells],
  );
  const { sourceId, sheet } = shown;
  useEffect(() => rig?.setView(view), [rig, view]);
  useEffect(() => rig?.set(lines, { sourceId, sheet }), [rig, lines, sourceId, sheet]);

  const press = (event: MouseEvent<SVGPathElement>, tether: Tether) => {
    const path = event.currentTarget;
    const length = path.getTotalLength();
    const [from, to] = [path.getPointAtLength(0), path.getPointAtLength(length)];
    const box = svg.current!.getBoundingClientRect();
    const [x, y] = [event.clientX - box.left, event.clientY - box.top];
    const isNearObject =
      Math.hypot(x - from.x, y - from.y) < Math.hypot(x - to.x, y - to.y) &&
      tether.standing !== 'adrift';
    if (isNearObject || tether.standing === 'adrift') onObject(tether.id);
    else onCells(tether);
  };

  return (
    <svg ref={svg} aria-hidden className="cords" data-cords={objects.length}>
      <clipPath id="cord-reach">
        <rect y="0" height="100%" />
      </clipPath>
      {objects.map((tether) => (
        <g
          key={tether.id}
          data-cord={tether.id}
          data-standing={tether.standing}
          className={tether.id === selected ? 'is-selected' : undefined}
        >
          <path className="cord" pathLength={100} />
          <path className="cord-strands" />
          <path className="cord-knot" />
          {/* biome-ignore lint/a11y/noStaticElementInteractions: the ends of the cord are the buttons for the keyboard */}
          <path
            className="cord-touch"
            clipPath="url(#cord-reach)"
            onClick={(event) => press(event, tether)}
          >
            <title>{`${tether.name}: ${tether.standing}${tether.summary ? `, ${tether.summary}` : ''}${tether.editCount > 0 ? `, ${tether.editCount} not written back` : ''}`}</title>
          </path>
          <circle className="cord-at-object" r="2.5" />
          <circle className="cord-at-cells" r="2.5" />
        </g>
      ))}
    </svg>
  );
}
