import { createApi } from '@reduxjs/toolkit/query/react';
import type {
  CellsMatch,
  CellsQuery,
  ChangeLines,
  EnterCells,
  EntriesSeen,
  FindCells,
  LinesSeen,
  RefreshResponse,
  Relink,
  RelinkSeen,
  SourceCandidate,
  SourceContents,
  SourceReading,
  TakePreview,
} from '@tether/contract';
import type { ChartData, Reach, Snapshot } from '@tether/core';
import { api, askServer, asParameters, TAGS } from './ask.ts';

/**
 * What is read out of the sources themselves, which can take seconds for a large one. In a cache of its own, since what
 * became out of date is asked again only when nothing is being asked: a slow reading must not keep the standings waiting.
 */
export const readingApi = createApi({
  reducerPath: 'reading',
  baseQuery: askServer,
  tagTypes: TAGS,
  endpoints: (build) => ({
    contents: build.query<SourceContents, string>({
      query: (id) => ({ url: `/sources/${id}/contents` }),
      providesTags: ['Contents'],
    }),
    entries: build.query<EntriesSeen, string>({
      query: (id) => ({ url: `/sources/${id}/entries` }),
      providesTags: (_seen, _error, id) => [{ type: 'Entries', id }],
    }),
    enterCells: build.mutation<null, EnterCells & { id: string }>({
      query: ({ id, ...body }) => ({ url: `/sources/${id}/entries`, method: 'PUT', body }),
      invalidatesTags: (_done, _error, { id }) => [{ type: 'Entries', id }],
    }),
    decideEntry: build.mutation<null, { id: string; entry: string; decision: 'theirs' | 'yours' }>({
      query: ({ id, ...body }) => ({ url: `/sources/${id}/entries/decide`, method: 'POST', body }),
      invalidatesTags: (_done, _error, { id }) => [{ type: 'Entries', id }],
    }),
    dropEntries: build.mutation<null, string>({
      query: (id) => ({ url: `/sources/${id}/entries`, method: 'DELETE' }),
      invalidatesTags: (_done, _error, id) => [{ type: 'Entries', id }],
    }),
    saveEntries: build.mutation<null, { id: string; token: string }>({
      query: ({ id, token }) => ({
        url: `/sources/${id}/entries/save`,
        method: 'POST',
        body: { token },
      }),
      invalidatesTags: (_done, _error, { id }) => [{ type: 'Entries', id }, 'Contents'],
    }),
    // `hash` only tells states of the source apart.
    candidates: build.query<SourceCandidate[], string>({
      query: (id) => ({ url: `/sources/${id}/candidates` }),
      keepUnusedDataFor: 0,
      providesTags: ['Contents'],
    }),
    seeRelink: build.query<RelinkSeen[], { from: string; to: string; document?: string }>({
      query: ({ from, to, ...query }) => ({
        url: `/sources/${from}/relink/${to}?${asParameters(query)}`,
      }),
      keepUnusedDataFor: 0,
    }),
    relink: build.mutation<
      { changed: number; refused: RefreshResponse['refused'] },
      Relink & { from: string }
    >({
      query: ({ from, ...body }) => ({ url: `/sources/${from}/relink`, method: 'POST', body }),
    }),
    seeLines: build.query<LinesSeen, { id: string; hash: string; change: ChangeLines }>({
      query: ({ id, change }) => ({
        url: `/sources/${id}/lines/plan`,
        method: 'POST',
        body: change,
      }),
      keepUnusedDataFor: 0,
    }),
    changeLines: build.mutation<null, { id: string; change: ChangeLines; token: string }>({
      query: ({ id, ...body }) => ({ url: `/sources/${id}/lines`, method: 'POST', body }),
      invalidatesTags: (_done, _error, { id }) => [{ type: 'Entries', id }, 'Contents'],
    }),
    // `hash` only tells states of the source apart.
    cells: build.query<Snapshot, { sourceId: string; hash: string } & CellsQuery>({
      query: ({ sourceId, sheet, reference }) => ({
        url: `/sources/${sourceId}/cells?${new URLSearchParams({ sheet, reference })}`,
      }),
      providesTags: ['Cells'],
    }),
    /** What a reach takes now, with that reach; `hash` only tells states of the source apart. */
    take: build.query<
      TakePreview & { reach: Reach },
      { sourceId: string; hash: string; reach: Reach }
    >({
      transformResponse: (taken: TakePreview, _, { reach }) => ({ ...taken, reach }),
      query: ({ sourceId, reach }) => ({
        url: `/sources/${sourceId}/take`,
        method: 'POST',
        body: { reach },
      }),
    }),
    chart: build.query<ChartData, { sourceId: string; hash: string; chart: string }>({
      query: ({ sourceId, chart }) => ({
        url: `/sources/${sourceId}/chart?${new URLSearchParams({ chart })}`,
      }),
    }),
    /** Where cells from elsewhere stand in the sources. */
    findCells: build.mutation<CellsMatch[], FindCells>({
      query: (body) => ({ url: '/sources/find', method: 'POST', body }),
    }),
    changeReading: build.mutation<null, { id: string } & SourceReading>({
      query: ({ id, ...body }) => ({ url: `/sources/${id}/reading`, method: 'PUT', body }),
      // Cells that were asked for just before may have come as they are read now, under the state of before.
      invalidatesTags: ['Contents', 'Cells'],
      async onQueryStarted(_, { dispatch, queryFulfilled }) {
        await queryFulfilled.catch(() => null);
        dispatch(api.util.invalidateTags(['Sources']));
      },
    }),
  }),
});

export const {
  useContentsQuery,
  useCellsQuery,
  useEntriesQuery,
  useEnterCellsMutation,
  useDecideEntryMutation,
  useDropEntriesMutation,
  useSaveEntriesMutation,
  useCandidatesQuery,
  useSeeRelinkQuery,
  useRelinkMutation,
  useSeeLinesQuery,
  useChangeLinesMutation,
  useTakeQuery,
  useChartQuery,
  useChangeReadingMutation,
} = readingApi;
