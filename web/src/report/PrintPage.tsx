import type { DocumentDetail } from '@tether/contract';
import { A_SERIES, aSheet } from '@tether/core';
import type { ReportContent } from '@tether/documents';
import { useState } from 'react';
import {
  PrintFrame,
  SETTLED_FRAMES,
  STILL_FRAMES,
  useFetched,
  useStillPages,
} from '../documents/PrintFrame.tsx';
import { apart } from '../documents/writing/apart.ts';
import { Drawing } from '../placed/nearness/nearness.ts';
import { useTethersQuery } from '../state/api.ts';
import { hasSections } from './pages/orientation.ts';
import { ReportPages } from './ReportPages.tsx';
import type { ReportSurface } from './report-surface.ts';

/** A report as it will be printed: the sheets alone, and what to do with them. */
export function PrintPage({ saved }: { saved: DocumentDetail<ReportContent> }) {
  const { id } = saved;
  const { data: tethers } = useTethersQuery(id, { refetchOnMountOrArgChange: true });
  const [surface, setSurface] = useState<ReportSurface | null>(null);
  const isPaged = useStillPages(surface, SETTLED_FRAMES) !== null;
  const count = useStillPages(isPaged ? surface : null, STILL_FRAMES);
  const isFetched = useFetched(tethers);
  const [shared] = useState(() => apart('report', saved.content));
  if (!tethers || !isFetched) return null;
  const paper = surface?.settings().paper ?? null;
  const [short, long] = paper ? A_SERIES[paper.size] : [210, 297];
  const isMixed = surface !== null && hasSections(surface.editor.state.doc);
  // Sheets of both orientations are cut out of paper that holds either, by the server.
  const size =
    isMixed || !paper
      ? { width: isMixed ? long : short, height: long }
      : aSheet(paper.size, paper.isLandscape);
  return (
    <PrintFrame
      saved={saved}
      tethers={tethers}
      count={count}
      paper={size}
      whyNotHere={
        isMixed ? 'It has sheets of both orientations: save it as PDF and print that.' : null
      }
    >
      <Drawing.Provider value={isPaged ? 'all' : 'rooms'}>
        <ReportPages
          saved={saved}
          shared={shared}
          isEditable={false}
          gap={0}
          onSurface={setSurface}
        />
      </Drawing.Provider>
    </PrintFrame>
  );
}
