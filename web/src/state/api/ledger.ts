import type {
  LedgerAct,
  LedgerOutcome,
  LedgerPage,
  LedgerQuery,
  LedgerSource,
  SavedView,
  SaveView,
} from '@tether/contract';
import { api, asParameters } from './ask.ts';

/** What is asked about the ledger: all objects in one table, changed by many at once. */
export const ledgerApi = api.injectEndpoints({
  endpoints: (build) => ({
    ledger: build.query<LedgerPage, LedgerQuery & { page: number }>({
      query: (query) => ({ url: `/ledger?${asParameters(query)}` }),
      providesTags: ['Ledger'],
    }),
    actOnMany: build.mutation<LedgerOutcome, LedgerAct>({
      query: (body) => ({ url: '/ledger/act', method: 'POST', body }),
      invalidatesTags: ['Tethers', 'NeedsYou', 'Documents', 'Document', 'Ledger', 'History', 'Log'],
    }),
    ledgerIds: build.query<string[], LedgerQuery>({
      query: (query) => ({ url: `/ledger/ids?${asParameters(query)}` }),
    }),
    ledgerSources: build.query<LedgerSource[], readonly string[]>({
      query: (ids) => ({ url: '/ledger/sources', method: 'POST', body: { ids } }),
      keepUnusedDataFor: 0,
    }),
    views: build.query<SavedView[], void>({
      query: () => ({ url: '/ledger/views' }),
      providesTags: ['Views'],
    }),
    saveView: build.mutation<SavedView, SaveView>({
      query: (body) => ({ url: '/ledger/views', method: 'POST', body }),
      invalidatesTags: ['Views'],
    }),
    removeView: build.mutation<null, string>({
      query: (id) => ({ url: `/ledger/views/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Views'],
    }),
  }),
});

export const {
  useLedgerQuery,
  useLedgerSourcesQuery,
  useViewsQuery,
  useSaveViewMutation,
  useRemoveViewMutation,
} = ledgerApi;
