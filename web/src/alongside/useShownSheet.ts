import type { SheetOutline, SourceContents, Tether } from '@tether/contract';
import { useContentsQuery } from '../state/api.ts';
import { useAppSelector } from '../state/store.ts';

/** The source and sheet that stand beside the document: the ones asked for, else the first that the document uses. */
export interface ShownSheet {
  sourceId: string | null;
  contents: SourceContents | undefined;
  /** Why the source cannot be opened. */
  error: unknown;
  sheet: SheetOutline | null;
}

/** What stands beside the document now; nothing while alongside is closed. */
export function useShownSheet(objects: readonly Tether[]): ShownSheet {
  const asked = useAppSelector(({ workbench }) => workbench.alongside);
  const sourceId = asked === null ? null : (asked.sourceId ?? objects[0]?.source.id ?? null);
  const { currentData: contents, error } = useContentsQuery(sourceId ?? '', {
    skip: sourceId === null,
  });
  const sheet =
    contents?.sheets.find(({ name }) => name === asked?.sheet) ??
    contents?.sheets.find(({ state }) => state === 'visible') ??
    contents?.sheets[0] ??
    null;
  return { sourceId, contents, error, sheet };
}
