import type { ReactNode } from 'react';
import { useAppDispatch, useAppSelector } from '../state/store.ts';
import { sectionFolded } from '../state/workbench-slice.ts';
import { Fold } from '../ui/Fold.tsx';

/** A section of the panel that stays folded or unfolded for the next object too. */
export function PanelFold(props: { title: string; note?: ReactNode; children: ReactNode }) {
  const { title, note, children } = props;
  const isOpen = useAppSelector(({ workbench }) => workbench.unfolded.includes(title));
  const dispatch = useAppDispatch();
  return (
    <Fold
      title={title}
      note={note}
      isOpen={isOpen}
      onToggle={(next) => dispatch(sectionFolded({ title, isOpen: next }))}
    >
      {children}
    </Fold>
  );
}
