import type { LedgerOutcome, LogPage, LogQuery } from '@tether/contract';
import type { ChangeSlip } from '@tether/core';
import { api, asParameters } from './ask.ts';

/** What is asked about the log, and taking back what it tells. */
export const logApi = api.injectEndpoints({
  endpoints: (build) => ({
    log: build.query<LogPage, LogQuery>({
      query: (query) => ({ url: `/log?${asParameters(query)}` }),
      providesTags: ['Log'],
    }),
    logSlip: build.query<ChangeSlip, number>({
      query: (entry) => ({ url: `/log/${entry}/slip` }),
    }),
    actEntries: build.query<number[], string>({
      query: (act) => ({ url: `/log/acts/${act}` }),
    }),
    takeBackMany: build.mutation<LedgerOutcome, number[]>({
      query: (entries) => ({ url: '/log/take-back', method: 'POST', body: { entries } }),
      invalidatesTags: ['Tethers', 'NeedsYou', 'Documents', 'Document', 'Ledger', 'History', 'Log'],
    }),
    layOut: build.mutation<{ sourceId: string }, number>({
      query: (entry) => ({ url: `/log/${entry}/lay-out`, method: 'POST' }),
    }),
    takeBack: build.mutation<null, number>({
      query: (entry) => ({ url: `/log/${entry}/take-back`, method: 'POST' }),
      invalidatesTags: ['Tethers', 'NeedsYou', 'Documents', 'Document', 'Ledger', 'History', 'Log'],
    }),
  }),
});

export const { useTakeBackMutation, useLayOutMutation, useLogQuery, useLogSlipQuery } = logApi;
