import { createContext, useContext } from 'react';

/** Which document the objects on the screen belong to. */
export const DocumentContext = createContext('');

/** The id of the document around. */
export function useDocumentId(): string {
  return useContext(DocumentContext);
}
