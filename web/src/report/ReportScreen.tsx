import type { DocumentDetail } from '@tether/contract';
import { sheetSize } from '@tether/core';
import { useRef, useState } from 'react';
import { PictureNotes } from '../documents/pictures/PictureNotes.tsx';
import { usePictures } from '../documents/pictures/usePictures.ts';
import type { Anchor } from '../documents/surface.ts';
import type { SharedWith } from '../documents/writing/shared-document.ts';
import type { Incoming } from '../sources/carried.ts';
import { useMayChange } from '../state/useMayChange.ts';
import { Button } from '../ui/Button.tsx';
import { SHEET_GAP } from './pages/page-flow.ts';
import { usePaperScale } from './pages/usePaperScale.ts';
import { ZoomControl } from './pages/ZoomControl.tsx';
import { ReportPages, settingsOf } from './ReportPages.tsx';
import type { ReportSurface } from './report-surface.ts';
import { FindBar } from './text/finding/FindBar.tsx';
import { insertPicture } from './text/objects/picture-node.ts';
import { TextRail } from './text/rail/TextRail.tsx';

interface Props {
  saved: DocumentDetail;
  shared: SharedWith;
  onSurface: (surface: ReportSurface | null) => void;
  /** Cells that are pasted, or dropped at a place of the text. */
  onCells: (incoming: Incoming, at?: Anchor) => void;
}

/** A report, open: its text on paper, with the rail for forming it. */
export function ReportScreen({ saved, shared, onSurface, onCells }: Props) {
  const { isAllowed } = useMayChange();
  const [surface, setSurface] = useState<ReportSurface | null>(null);
  const [lost, setLost] = useState<string[]>([]);
  const [isFinding, setFinding] = useState(false);
  const pane = useRef<HTMLDivElement>(null);
  const pictures = usePictures(saved.id, (picture) => {
    if (surface) insertPicture(surface.editor, picture);
  });
  const [paper, setPaper] = useState(() => sheetSize(settingsOf(shared.doc).paper).width);
  const scale = usePaperScale(pane, paper);
  return (
    <div className="relative flex min-h-0 min-w-0 flex-1">
      {isAllowed && surface && (
        <TextRail
          editor={surface.editor}
          surface={surface}
          onFind={() => setFinding(!isFinding)}
          onPictures={(files) => void pictures.takeIn(files)}
        />
      )}
      <div className="relative flex min-w-0 flex-1 flex-col">
        {isAllowed && surface && isFinding && (
          <FindBar
            editor={surface.editor}
            onClose={() => {
              setFinding(false);
              surface.focus();
            }}
          />
        )}
        <div ref={pane} className="min-h-0 min-w-0 flex-1 overflow-auto px-6 py-6" data-scroll>
          <ReportPages
            saved={saved}
            shared={shared}
            isEditable={isAllowed}
            gap={SHEET_GAP}
            scale={scale}
            onWidth={setPaper}
            onCells={onCells}
            onPictures={(files) => void pictures.takeIn(files)}
            onPage={pictures.takePage}
            onLost={(words) => setLost((all) => [...all, words])}
            onSurface={(now) => {
              setSurface(now);
              onSurface(now);
            }}
          />
        </div>
        <ZoomControl scale={scale} />
        <PictureNotes pictures={pictures} side="left" />
        {surface && lost[0] !== undefined && (
          <LostWords
            words={lost[0]}
            onPutBack={() => surface.addWords(lost[0]!)}
            onDone={() => setLost((all) => all.slice(1))}
          />
        )}
      </div>
    </div>
  );
}

/** Tells that somebody else took out what one was writing in, and gives it back. */
function LostWords(props: { words: string; onPutBack: () => void; onDone: () => void }) {
  const { words, onPutBack, onDone } = props;
  return (
    <div
      role="alert"
      className="absolute inset-x-4 bottom-4 z-10 flex items-center gap-3 rounded-box border border-adrift/40 bg-white px-4 py-2 shadow-lg"
    >
      <p className="min-w-0 flex-1">
        <b className="text-adrift">Somebody took out the paragraph that you were writing in.</b> It
        said: <span className="line-clamp-2">“{words}”</span>
      </p>
      <Button
        kind="primary"
        onClick={() => {
          onPutBack();
          onDone();
        }}
      >
        Put it back at the cursor
      </Button>
      <Button onClick={onDone}>Let it go</Button>
    </div>
  );
}
