import { type SheetSize, sheetSize, type TableFace } from '@tether/core';
import { type ReportSettings, reportSettingsSchema } from '@tether/documents';
import { createContext, useContext } from 'react';
import * as Y from 'yjs';
import { Dressings } from '../documents/object/dressings.ts';
import type { PageFlow } from './pages/page-flow.ts';

/** The report that the objects on the screen belong to. */
export interface ReportAround {
  id: string;
  settings: ReportSettings;
  sheet: SheetSize;
  /** Breaks the text into pages; null where it is not, as in a thumbnail. */
  flow: PageFlow | null;
  /** How each table came out, by tether: for what is copied out of the text. */
  faces: Map<string, TableFace> | null;
  /** How its objects are dressed. */
  dressings: Dressings;
}

const usual = reportSettingsSchema.parse({});
/** Where nothing is an open text, nothing is dressed. */
export const NO_DRESSINGS = new Dressings(new Y.Doc());

export const ReportContext = createContext<ReportAround>({
  id: '',
  settings: usual,
  sheet: sheetSize(usual.paper),
  flow: null,
  faces: null,
  dressings: NO_DRESSINGS,
});

/** The report around. */
export function useReportAround(): ReportAround {
  return useContext(ReportContext);
}
