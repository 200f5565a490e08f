import { ChevronRight } from 'lucide-react';
import type { ReactNode } from 'react';

interface Props {
  title: string;
  /** What is in it, in a few words; seen while it is folded. */
  note?: ReactNode;
  isOpen: boolean;
  onToggle: (isOpen: boolean) => void;
  children: ReactNode;
}

/** A section that is folded to its heading until somebody wants it. */
export function Fold({ title, note, isOpen, onToggle, children }: Props) {
  return (
    <section className="border-b border-hairline">
      <h3>
        <button
          type="button"
          aria-expanded={isOpen}
          onClick={() => onToggle(!isOpen)}
          className="flex w-full items-center gap-1.5 px-4 py-2.5 text-left -outline-offset-2 hover:bg-mist"
        >
          <ChevronRight
            size={14}
            aria-hidden
            className={`-ml-1 shrink-0 text-muted ${isOpen ? 'rotate-90' : ''}`}
          />
          <span className="shrink-0 text-sm font-semibold text-muted">{title}</span>
          {!isOpen && note && (
            <span className="min-w-0 flex-1 truncate text-right font-sans font-normal">{note}</span>
          )}
        </button>
      </h3>
      {isOpen && <div className="px-4 pb-4">{children}</div>}
    </section>
  );
}
