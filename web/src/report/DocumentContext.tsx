import { type DocumentSettings, documentSettingsSchema } from '@tether/contract';
import { type SheetSize, sheetSize, type TableFace } from '@tether/core';
import { createContext, useContext } from 'react';
import type { PageFlow } from './PageFlow.ts';

/** The document that the objects on the screen belong to. */
export interface DocumentAround {
  id: string;
  settings: DocumentSettings;
  sheet: SheetSize;
  /** Breaks the text into pages; null where it is not, as in a thumbnail. */
  flow: PageFlow | null;
  /** How each table came out, by tether: for what is copied out of the text. */
  faces: Map<string, TableFace> | null;
}

const usual = documentSettingsSchema.parse({});

export const DocumentContext = createContext<DocumentAround>({
  id: '',
  settings: usual,
  sheet: sheetSize(usual.paper),
  flow: null,
  faces: null,
});

/** The document around. */
export function useDocumentAround(): DocumentAround {
  return useContext(DocumentContext);
}
