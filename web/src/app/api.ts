import { type BaseQueryFn, createApi } from '@reduxjs/toolkit/query/react';
import {
  type AddFolder,
  type CellsMatch,
  type CellsQuery,
  type ChangeTether,
  type CreateDocument,
  type DemoPerson,
  type DocumentDetail,
  type FindCells,
  type FolderPlace,
  faultResponseSchema,
  type LogPage,
  type LogQuery,
  type NeedsYou,
  type Person,
  type PlaceRequest,
  type RefreshRequest,
  type RefreshResponse,
  type SaveDocument,
  type SignInRequest,
  type SourceContents,
  type SourceFolder,
  type SourceMatch,
  type SourceReading,
  type SourceUse,
  type TakePreview,
  type Tether,
} from '@tether/contract';
import {
  type ChangeSlip,
  type ChartData,
  type Fault,
  fault,
  type Reach,
  type Snapshot,
} from '@tether/core';

/** A request as the endpoints write it. @public The store’s type names it. */
export interface ApiRequest {
  url: string;
  method?: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  body?: unknown;
}

/** Asks the server; every failure, also of the network, arrives as a fault. */
const askServer: BaseQueryFn<ApiRequest, unknown, Fault> = async (
  { url, method, body },
  { signal },
) => {
  let response: Response;
  try {
    response = await fetch(`/api${url}`, {
      method: method ?? 'GET',
      signal,
      ...(body === undefined
        ? {}
        : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
    });
  } catch {
    return { error: fault('unexpected', { detail: 'the server cannot be reached' }) };
  }
  const data: unknown = response.status === 204 ? null : await response.json().catch(() => null);
  if (response.ok) return { data };
  const parsed = faultResponseSchema.safeParse(data);
  const detail = `the server answered ${response.status}`;
  return { error: parsed.success ? parsed.data.fault : fault('unexpected', { detail }) };
};

/** Everything the screens ask of the server. Live events say by tag what must be asked again. */
export const api = createApi({
  baseQuery: askServer,
  tagTypes: [
    'Me',
    'Documents',
    'Document',
    'Tethers',
    'NeedsYou',
    'Sources',
    'Contents',
    'Cells',
    'Log',
  ],
  endpoints: (build) => ({
    me: build.query<Person, void>({ query: () => ({ url: '/me' }), providesTags: ['Me'] }),
    demoPeople: build.query<DemoPerson[], void>({ query: () => ({ url: '/demo-people' }) }),
    signIn: build.mutation<Person, SignInRequest>({
      query: (body) => ({ url: '/sign-in', method: 'POST', body }),
    }),
    signOut: build.mutation<null, void>({ query: () => ({ url: '/sign-out', method: 'POST' }) }),

    documents: build.query<DocumentDetail[], void>({
      query: () => ({ url: '/documents' }),
      providesTags: ['Documents'],
    }),
    document: build.query<DocumentDetail, string>({
      query: (id) => ({ url: `/documents/${id}` }),
      providesTags: (_result, _error, id) => [{ type: 'Document', id }],
    }),
    createDocument: build.mutation<DocumentDetail, CreateDocument>({
      query: (body) => ({ url: '/documents', method: 'POST', body }),
      invalidatesTags: ['Documents'],
    }),
    renameDocument: build.mutation<DocumentDetail, { id: string; name: string }>({
      query: ({ id, name }) => ({ url: `/documents/${id}`, method: 'PATCH', body: { name } }),
      invalidatesTags: (_result, _error, { id }) => [{ type: 'Document', id }, 'Documents'],
    }),
    // What a save changed is kept by the editor itself; the desk hears of it by event.
    saveDocument: build.mutation<{ version: number }, { id: string } & SaveDocument>({
      query: ({ id, ...body }) => ({ url: `/documents/${id}/content`, method: 'PUT', body }),
      invalidatesTags: (_result, _error, { id }) => [{ type: 'Tethers', id }, 'NeedsYou'],
    }),

    tethers: build.query<Tether[], string>({
      query: (documentId) => ({ url: `/documents/${documentId}/tethers` }),
      providesTags: (_result, _error, id) => [{ type: 'Tethers', id }],
    }),
    needsYou: build.query<NeedsYou[], void>({
      query: () => ({ url: '/tethers/needs-you' }),
      providesTags: ['NeedsYou'],
    }),
    place: build.mutation<Tether, { documentId: string } & PlaceRequest>({
      query: ({ documentId, ...body }) => ({
        url: `/documents/${documentId}/tethers`,
        method: 'POST',
        body,
      }),
      async onQueryStarted({ documentId }, { dispatch, queryFulfilled }) {
        // The object must be known before its node comes into the text.
        const placed = await queryFulfilled.catch(() => null);
        if (!placed) return;
        dispatch(
          api.util.updateQueryData('tethers', documentId, (known) => {
            if (!known.some(({ id }) => id === placed.data.id)) known.push(placed.data);
          }),
        );
      },
    }),
    changeTether: build.mutation<Tether, { id: string; documentId: string } & ChangeTether>({
      query: ({ id, documentId: _, ...body }) => ({ url: `/tethers/${id}`, method: 'PATCH', body }),
      invalidatesTags: (_result, _error, { documentId }) => [{ type: 'Tethers', id: documentId }],
    }),
    refresh: build.mutation<RefreshResponse, RefreshRequest>({
      query: (body) => ({ url: '/tethers/refresh', method: 'POST', body }),
      invalidatesTags: ['Tethers', 'NeedsYou', 'Documents', 'Log'],
    }),
    // The two hashes are part of the question, so that an answer is never shown for another state.
    slip: build.query<ChangeSlip, { id: string; base: string; pending: string }>({
      query: ({ id }) => ({ url: `/tethers/${id}/slip` }),
    }),
    snapshot: build.query<Snapshot, string>({
      query: (hash) => ({ url: `/snapshots/${hash}` }),
      keepUnusedDataFor: 600,
    }),

    sources: build.query<SourceFolder[], void>({
      query: () => ({ url: '/sources' }),
      providesTags: ['Sources'],
    }),
    contents: build.query<SourceContents, string>({
      query: (id) => ({ url: `/sources/${id}/contents` }),
      providesTags: ['Contents'],
    }),
    // `hash` only tells states of the source apart.
    cells: build.query<Snapshot, { sourceId: string; hash: string } & CellsQuery>({
      query: ({ sourceId, sheet, reference }) => ({
        url: `/sources/${sourceId}/cells?${new URLSearchParams({ sheet, reference })}`,
      }),
      providesTags: ['Cells'],
    }),

    /** What a reach takes now; `hash` only tells states of the source apart. */
    take: build.query<TakePreview, { sourceId: string; hash: string; reach: Reach }>({
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
    searchSources: build.query<SourceMatch[], string>({
      query: (words) => ({ url: `/sources/search?${new URLSearchParams({ words })}` }),
      providesTags: ['Sources'],
    }),
    /** Where cells from elsewhere stand in the sources. */
    findCells: build.mutation<CellsMatch[], FindCells>({
      query: (body) => ({ url: '/sources/find', method: 'POST', body }),
    }),
    changeReading: build.mutation<null, { id: string } & SourceReading>({
      query: ({ id, ...body }) => ({ url: `/sources/${id}/reading`, method: 'PUT', body }),
      // Cells that were asked for just before may have come as they are read now, under the state of before.
      invalidatesTags: ['Contents', 'Sources', 'Cells'],
    }),
    places: build.query<FolderPlace, string | null>({
      query: (path) => ({
        url: `/source-folders/places${path === null ? '' : `?${new URLSearchParams({ path })}`}`,
      }),
    }),
    addFolder: build.mutation<{ id: string }, AddFolder>({
      query: (body) => ({ url: '/source-folders', method: 'POST', body }),
      invalidatesTags: ['Sources'],
    }),
    renameFolder: build.mutation<{ id: string }, { id: string; name: string }>({
      query: ({ id, name }) => ({ url: `/source-folders/${id}`, method: 'PATCH', body: { name } }),
      invalidatesTags: ['Sources', 'Tethers', 'NeedsYou'],
    }),
    removeFolder: build.mutation<null, string>({
      query: (id) => ({ url: `/source-folders/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Sources'],
    }),
    uses: build.query<SourceUse[], string>({
      query: (id) => ({ url: `/sources/${id}/uses` }),
      providesTags: ['NeedsYou'],
    }),

    log: build.query<LogPage, LogQuery>({
      query: (query) => {
        const words = Object.entries(query).map(([key, value]) => [key, String(value)]);
        return { url: `/log?${new URLSearchParams(Object.fromEntries(words))}` };
      },
      providesTags: ['Log'],
    }),
  }),
});

export const {
  useMeQuery,
  useDemoPeopleQuery,
  useSignInMutation,
  useSignOutMutation,
  useDocumentsQuery,
  useDocumentQuery,
  useCreateDocumentMutation,
  useRenameDocumentMutation,
  useTethersQuery,
  useNeedsYouQuery,
  usePlaceMutation,
  useChangeTetherMutation,
  useTakeQuery,
  useUsesQuery,
  useChartQuery,
  useSearchSourcesQuery,
  useChangeReadingMutation,
  usePlacesQuery,
  useAddFolderMutation,
  useRenameFolderMutation,
  useRemoveFolderMutation,
  useRefreshMutation,
  useSlipQuery,
  useSnapshotQuery,
  useSourcesQuery,
  useContentsQuery,
  useCellsQuery,
  useLogQuery,
} = api;

/** The fault behind a failed request, whatever form the failure took. */
export function faultOf(error: unknown): Fault {
  const known = faultResponseSchema.shape.fault.safeParse(error);
  return known.success ? known.data : fault('unexpected', { detail: 'the request failed' });
}
