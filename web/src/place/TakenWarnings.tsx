import type { TakePreview } from '@tether/contract';
import { type Area, headerOf, type Snapshot } from '@tether/core';
import type { ComponentProps, ReactNode } from 'react';
import { Warnings } from '../ui/Warnings.tsx';
import type { ReachDraft } from './reach-draft.ts';

interface Props {
  taken: TakePreview;
  draft: ReachDraft;
  onChange: (part: Partial<ReachDraft>) => void;
}
type Warning = ComponentProps<typeof Warnings>['warnings'][number];

/** What is to be known about the cells taken, each with the click that mends it. */
export function TakenWarnings({ taken, draft, onChange }: Props) {
  return (
    <Warnings
      warnings={taken.warnings}
      action={(warning) => {
        const mend = mendOf(warning, taken, draft);
        return mend && <Mend onClick={() => onChange(mend.change)}>{mend.words}</Mend>;
      }}
    />
  );
}

/** What the click changes, and what is said on it; null where nothing mends it. */
function mendOf(
  { code, area, name }: Warning,
  { snapshot }: TakePreview,
  draft: ReachDraft,
): { change: Partial<ReachDraft>; words: string } | null {
  const own = draft.area;
  if (code === 'named' && name) {
    return { change: { kind: 'name', name }, words: 'Take it by its name' };
  }
  if (!own) return null;
  if (code === 'column beside' && area) {
    return { change: { area: { ...own, right: area.right } }, words: 'Take it too' };
  }
  if (draft.kind !== 'block') return null;
  if (code === 'total inside') {
    const change = growingFrom(snapshot, own);
    const words = 'Take a growing block, which keeps it when rows are put in';
    return change && { change, words };
  }
  if ((code === 'data below' || code === 'total below') && area) {
    const words = code === 'total below' ? 'Take it too' : 'Take them too';
    return { change: { area: { ...own, bottom: area.bottom } }, words };
  }
  return null;
}

function Mend({ onClick, children }: { onClick: () => void; children: ReactNode }) {
  return (
    <button type="button" className="underline" onClick={onClick}>
      {children}
    </button>
  );
}

/** The growing block that begins with the header of cells, and takes its columns; null where they have no header. */
function growingFrom(snapshot: Snapshot, area: Area): Partial<ReachDraft> | null {
  const { title, rows } = headerOf(snapshot);
  if (rows === 0) return null;
  return { kind: 'growing block', area: { ...area, top: snapshot.area.top + title } };
}
