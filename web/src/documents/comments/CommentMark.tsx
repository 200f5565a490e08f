import { MessageSquare } from 'lucide-react';
import { useAppDispatch } from '../../state/store.ts';
import { threadShown } from '../../state/workbench-slice.ts';
import { useThreads } from './comments.ts';

/** Beside a placed object: how many open comments there are on it; a press shows them. */
export function CommentMark({ tetherId }: { tetherId: string }) {
  const dispatch = useAppDispatch();
  const open = useThreads().filter(
    ({ about, resolved }) =>
      about.kind === 'object' && about.tetherId === tetherId && resolved === null,
  );
  const [first] = open;
  if (!first) return null;
  const count = open.length === 1 ? 'One open comment' : `${open.length} open comments`;
  return (
    <button
      type="button"
      contentEditable={false}
      className="cleat absolute top-8 left-full ml-2 flex h-6 items-center gap-1 rounded-box border border-hairline bg-white px-1.5 font-sans text-[12px] leading-4 text-ink hover:border-deep"
      aria-label={`${count} on this object. Show`}
      onClick={() => dispatch(threadShown(first.id))}
    >
      <MessageSquare size={12} aria-hidden />
      {open.length}
    </button>
  );
}
