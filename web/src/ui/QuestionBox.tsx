import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import type { ReactNode } from 'react';

/** A small box over the page for one question, closed by Escape or a press beside it. */
export function QuestionBox(props: {
  title: string;
  /** Wide, for something to look at. */
  isWide?: boolean;
  onClose: () => void;
  children: ReactNode;
}) {
  return (
    <Dialog open onClose={props.onClose} className="fixed inset-0 z-50">
      <div className="fixed inset-0 grid place-items-center bg-ink/30 p-4">
        <DialogPanel
          className={`flex max-h-full ${props.isWide ? 'h-[640px] w-[1000px]' : 'w-[460px]'} flex-col gap-3 overflow-auto rounded-box border border-hairline bg-white p-5`}
        >
          <DialogTitle className="text-[16px] font-semibold">{props.title}</DialogTitle>
          {props.children}
        </DialogPanel>
      </div>
    </Dialog>
  );
}
