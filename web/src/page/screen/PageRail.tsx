import {
  Circle,
  ImagePlus,
  type LucideIcon,
  Map as MapIcon,
  MousePointer2,
  MoveHorizontal,
  Redo2,
  Slash,
  Spline,
  Square,
  Type,
  Undo2,
} from 'lucide-react';
import { useRef } from 'react';
import { CommentButton } from '../../documents/comments/CommentButton.tsx';
import { PICTURE_KINDS } from '../../documents/pictures/usePictures.ts';
import { useSurface } from '../../documents/surface.ts';
import { IconButton } from '../../ui/IconButton.tsx';
import { Rail } from '../../ui/Rail.tsx';
import type { Tool } from '../hand/drawn-by-hand.ts';
import type { PageSurface } from '../surface/page-surface.ts';

const TOOLS: { tool: Tool; icon: LucideIcon; label: string }[] = [
  { tool: 'choose', icon: MousePointer2, label: 'Choose and move' },
  { tool: 'text', icon: Type, label: 'Text' },
  { tool: 'line', icon: Slash, label: 'Line' },
  { tool: 'rectangle', icon: Square, label: 'Rectangle' },
  { tool: 'ellipse', icon: Circle, label: 'Circle or ellipse' },
  { tool: 'arc', icon: Spline, label: 'Arc' },
  { tool: 'dimension', icon: MoveHorizontal, label: 'Dimension' },
];

/** The narrow rail beside the page: what the pointer does, and undo. */
export function PageRail(props: {
  surface: PageSurface;
  /** What the pointer can do here. */
  tools: readonly Tool[];
  tool: Tool;
  onTool: (tool: Tool) => void;
  onPictures: (files: File[]) => void;
  onPlan: ((file: File) => void) | undefined;
}) {
  const { surface, tools, tool, onTool, onPictures, onPlan } = props;
  const plan = useRef<HTMLInputElement>(null);
  const files = useRef<HTMLInputElement>(null);
  const canUndo = useSurface(surface, () => surface.pages.canUndo);
  const canRedo = useSurface(surface, () => surface.pages.canRedo);
  return (
    <Rail label="Drawing">
      <IconButton icon={Undo2} label="Undo" disabled={!canUndo} onClick={() => surface.undo()} />
      <IconButton icon={Redo2} label="Redo" disabled={!canRedo} onClick={() => surface.redo()} />
      <hr className="my-1 w-6 border-hairline" />
      {TOOLS.filter((each) => tools.includes(each.tool)).map(({ tool: each, icon, label }) => (
        <IconButton
          key={each}
          icon={icon}
          label={label}
          isOn={tool === each}
          onClick={() => onTool(each)}
        />
      ))}
      <IconButton icon={ImagePlus} label="Picture …" onClick={() => files.current?.click()} />
      <input
        ref={files}
        type="file"
        accept={PICTURE_KINDS}
        multiple
        hidden
        aria-label="Pictures to put in"
        onChange={(event) => {
          onPictures([...(event.target.files ?? [])]);
          event.target.value = '';
        }}
      />
      {onPlan && <IconButton icon={MapIcon} label="Plan …" onClick={() => plan.current?.click()} />}
      <input
        ref={plan}
        type="file"
        accept={PICTURE_KINDS}
        hidden
        aria-label="Plan to put in"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          if (file) onPlan?.(file);
          event.target.value = '';
        }}
      />
      <hr className="my-1 w-6 border-hairline" />
      <CommentButton surface={surface} />
    </Rail>
  );
}
