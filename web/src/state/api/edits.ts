import type {
  EditRequest,
  EditsSeen,
  SourceEdits,
  Tether,
  Unlocked,
  WriteAll,
  WriteOutcome,
} from '@tether/contract';
import { api } from './ask.ts';

/** What is asked about corrections made in documents, and writing them back. */
const editsApi = api.injectEndpoints({
  endpoints: (build) => ({
    unlock: build.mutation<Tether, { id: string; unlocked: Unlocked | null }>({
      query: ({ id, unlocked }) => ({
        url: `/tethers/${id}/unlocked`,
        method: 'PUT',
        body: { unlocked },
      }),
      invalidatesTags: ['Tethers', 'Log'],
    }),
    setWritesAtOnce: build.mutation<Tether, { id: string; writesAtOnce: boolean }>({
      query: ({ id, writesAtOnce }) => ({
        url: `/tethers/${id}/writes-at-once`,
        method: 'PUT',
        body: { writesAtOnce },
      }),
      invalidatesTags: ['Tethers', 'Log'],
    }),
    // `key` only tells states of the object apart.
    edits: build.query<EditsSeen, { id: string; key: string }>({
      query: ({ id }) => ({ url: `/tethers/${id}/edits` }),
      providesTags: ['Edits'],
    }),
    editCells: build.mutation<Tether, { id: string; request: EditRequest }>({
      query: ({ id, request }) => ({ url: `/tethers/${id}/edits`, method: 'POST', body: request }),
      invalidatesTags: ['Tethers', 'Edits', 'NeedsYou', 'Documents', 'Ledger', 'Log'],
    }),
    decideEdit: build.mutation<null, { id: string; edit: string; decision: 'theirs' | 'yours' }>({
      query: ({ id, ...body }) => ({ url: `/tethers/${id}/edits/decide`, method: 'POST', body }),
      invalidatesTags: ['Tethers', 'Edits', 'NeedsYou', 'Documents', 'Ledger'],
    }),
    documentEdits: build.query<SourceEdits[], string>({
      query: (id) => ({ url: `/documents/${id}/edits` }),
      providesTags: ['Edits'],
    }),
    writeAll: build.mutation<WriteOutcome, WriteAll & { id: string }>({
      query: ({ id, ...body }) => ({ url: `/documents/${id}/write-back`, method: 'POST', body }),
      invalidatesTags: ['Tethers', 'Edits', 'NeedsYou', 'Documents', 'Ledger', 'History', 'Log'],
    }),
    writeBack: build.mutation<null, { id: string; token: string }>({
      query: ({ id, token }) => ({
        url: `/tethers/${id}/write-back`,
        method: 'POST',
        body: { token },
      }),
      invalidatesTags: ['Tethers', 'Edits', 'NeedsYou', 'Documents', 'Ledger', 'History', 'Log'],
    }),
  }),
});

export const {
  useUnlockMutation,
  useSetWritesAtOnceMutation,
  useEditsQuery,
  useEditCellsMutation,
  useDecideEditMutation,
  useWriteBackMutation,
  useDocumentEditsQuery,
  useWriteAllMutation,
} = editsApi;
