import type { UnknownAction } from '@reduxjs/toolkit';
import { type BaseQueryFn, createApi } from '@reduxjs/toolkit/query/react';
import {
  type AddFolder,
  type BundleContents,
  type Carried,
  type Carry,
  type CarrySeen,
  type CellsMatch,
  type CellsQuery,
  type ChangeDocument,
  type ChangeFolder,
  type ChangeLines,
  type ChangeTether,
  type CompareQuery,
  type CreateDocument,
  type DemoPerson,
  type DocumentCard,
  type DocumentDetail,
  type DocumentVersion,
  type DocumentVersionDetail,
  type EditRequest,
  type EditsSeen,
  type EnterCells,
  type EntriesSeen,
  type FindCells,
  type FolderElsewhere,
  type FolderPlace,
  faultResponseSchema,
  type JobStates,
  type KeepVersion,
  type KeptPicture,
  type LeaveRequest,
  type LedgerAct,
  type LedgerOutcome,
  type LedgerPage,
  type LedgerQuery,
  type LedgerSource,
  type LinesSeen,
  type LogPage,
  type LogQuery,
  type LookedAt,
  type NeedsPage,
  type OfficeAct,
  type OfficeSeen,
  type Person,
  type PictureLayer,
  type PlaceRequest,
  type RefreshRequest,
  type RefreshResponse,
  type Relink,
  type RelinkSeen,
  type SavedView,
  type SaveView,
  type SignInRequest,
  type SourceCandidate,
  type SourceContents,
  type SourceEdits,
  type SourceFolder,
  type SourceMatch,
  type SourceReading,
  type SourceUse,
  type TakePreview,
  type Tether,
  type TetherState,
  type Unlocked,
  type WriteAll,
  type WriteOutcome,
} from '@tether/contract';
import {
  type ChangeSlip,
  type ChartData,
  type Fault,
  fault,
  type Mode,
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
        : body instanceof Blob
          ? { body }
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

/** A question as parameters of an address; what is not said is left out. */
function asParameters(query: object): URLSearchParams {
  const words = Object.entries(query).filter(([, value]) => value !== undefined && value !== '');
  return new URLSearchParams(words.map(([key, value]) => [key, String(value)]));
}

const TAGS = [
  'Me',
  'Documents',
  'Document',
  'Versions',
  'Tethers',
  'Edits',
  'NeedsYou',
  'Ledger',
  'Views',
  'History',
  'Jobs',
  'Sources',
  'Contents',
  'Cells',
  'Entries',
  'Log',
  'Office',
] as const;

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

/** Everything else the screens ask of the server. Live events say by tag what must be asked again. */
export const api = createApi({
  baseQuery: askServer,
  tagTypes: TAGS,
  endpoints: (build) => ({
    me: build.query<Person, void>({ query: () => ({ url: '/me' }), providesTags: ['Me'] }),
    demoPeople: build.query<DemoPerson[], void>({ query: () => ({ url: '/demo-people' }) }),
    signIn: build.mutation<Person, SignInRequest>({
      query: (body) => ({ url: '/sign-in', method: 'POST', body }),
    }),
    signOut: build.mutation<null, void>({ query: () => ({ url: '/sign-out', method: 'POST' }) }),

    documents: build.query<DocumentCard[], void>({
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
    changeDocument: build.mutation<DocumentDetail, { id: string } & ChangeDocument>({
      query: ({ id, ...body }) => ({ url: `/documents/${id}`, method: 'PATCH', body }),
      invalidatesTags: (_result, _error, { id }) => [
        { type: 'Document', id },
        { type: 'Tethers', id },
        'Documents',
        'Ledger',
      ],
    }),
    deleteDocument: build.mutation<null, string>({
      query: (id) => ({ url: `/documents/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Documents', 'NeedsYou', 'Ledger', 'Log'],
    }),
    seeCarry: build.query<CarrySeen, string>({
      query: (id) => ({ url: `/documents/${id}/carry-forward` }),
      keepUnusedDataFor: 0,
    }),
    carryForward: build.mutation<Carried, Carry & { id: string }>({
      query: ({ id, ...body }) => ({
        url: `/documents/${id}/carry-forward`,
        method: 'POST',
        body,
      }),
      invalidatesTags: ['Documents', 'NeedsYou', 'Ledger', 'Log'],
    }),
    bundleContents: build.query<BundleContents, string>({
      query: (id) => ({ url: `/documents/${id}/bundle/contents` }),
      keepUnusedDataFor: 0,
    }),
    duplicateDocument: build.mutation<DocumentDetail, string>({
      query: (id) => ({ url: `/documents/${id}/copies`, method: 'POST' }),
      invalidatesTags: ['Documents', 'Ledger', 'Log'],
    }),
    hold: build.mutation<DocumentDetail, { id: string; isHeld: boolean }>({
      query: ({ id, isHeld }) => ({
        url: `/documents/${id}/hold`,
        method: 'PUT',
        body: { isHeld },
      }),
      invalidatesTags: (_result, _error, { id }) => [
        { type: 'Document', id },
        { type: 'Tethers', id },
        'Documents',
        'NeedsYou',
        'Ledger',
        'Log',
      ],
    }),
    /** Says that a person opened a document; gives how many objects were refreshed by that. */
    opened: build.mutation<{ refreshed: number }, string>({
      query: (id) => ({ url: `/looks/opened/${id}`, method: 'POST' }),
      invalidatesTags: (result, _error, id) => (result?.refreshed ? [{ type: 'Tethers', id }] : []),
    }),
    lookedAt: build.mutation<null, { documentId: string } & LookedAt>({
      query: ({ documentId: _, ...body }) => ({ url: '/looks/looked-at', method: 'POST', body }),
      invalidatesTags: (_result, _error, { documentId }) => [{ type: 'Tethers', id: documentId }],
    }),
    // What a save changed is kept by the editor itself; the desk hears of it by event.
    versions: build.query<DocumentVersion[], string>({
      query: (id) => ({ url: `/documents/${id}/versions` }),
      providesTags: ['Versions'],
    }),
    version: build.query<DocumentVersionDetail, { id: string; version: string }>({
      query: ({ id, version }) => ({ url: `/documents/${id}/versions/${version}` }),
    }),
    keepVersion: build.mutation<{ id: string }, { id: string } & KeepVersion>({
      query: ({ id, ...body }) => ({ url: `/documents/${id}/versions`, method: 'POST', body }),
      invalidatesTags: ['Versions'],
    }),
    takePicture: build.mutation<KeptPicture, { id: string; picture: Blob }>({
      query: ({ id, picture }) => ({
        url: `/documents/${id}/pictures`,
        method: 'POST',
        body: picture,
      }),
    }),
    pictureLayers: build.query<PictureLayer[], string>({
      query: (hash) => ({ url: `/pictures/${hash}/layers` }),
    }),
    pictureObject: build.mutation<KeptPicture, { documentId: string; id: string }>({
      query: ({ documentId, id }) => ({
        url: `/documents/${documentId}/objects/${id}/picture`,
        method: 'POST',
      }),
    }),
    tethers: build.query<Tether[], string>({
      query: (documentId) => ({ url: `/documents/${documentId}/tethers` }),
      providesTags: (_result, _error, id) => [{ type: 'Tethers', id }],
    }),
    needsYou: build.query<NeedsPage, number>({
      query: (page) => ({ url: `/tethers/needs-you?page=${page}` }),
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
    stays: build.mutation<null, string>({
      query: (id) => ({ url: `/tethers/${id}/stays`, method: 'POST' }),
    }),
    changeTether: build.mutation<Tether, { id: string; documentId: string } & ChangeTether>({
      query: ({ id, documentId: _, ...body }) => ({ url: `/tethers/${id}`, method: 'PATCH', body }),
      invalidatesTags: (_result, _error, { documentId }) => [{ type: 'Tethers', id: documentId }],
    }),
    refresh: build.mutation<RefreshResponse, RefreshRequest>({
      query: (body) => ({ url: '/tethers/refresh', method: 'POST', body }),
      invalidatesTags: ['Tethers', 'NeedsYou', 'Documents', 'Ledger', 'History', 'Log'],
    }),
    leave: build.mutation<RefreshResponse, LeaveRequest>({
      query: (body) => ({ url: '/tethers/leave', method: 'POST', body }),
      invalidatesTags: ['Tethers', 'NeedsYou', 'Ledger', 'Log'],
    }),
    /** Reads the source of an object anew. */
    lookAgain: build.mutation<null, string>({
      query: (id) => ({ url: `/tethers/${id}/look`, method: 'POST' }),
      invalidatesTags: ['Tethers', 'NeedsYou', 'Documents', 'Ledger', 'Sources'],
    }),
    /** Ends that an object was left or gone back. */
    followAgain: build.mutation<null, string>({
      query: (id) => ({ url: `/tethers/${id}/follow`, method: 'POST' }),
      invalidatesTags: ['Tethers', 'NeedsYou', 'Documents', 'Ledger', 'History', 'Log'],
    }),
    setMoored: build.mutation<Tether, { id: string; isMoored: boolean }>({
      query: ({ id, isMoored }) => ({
        url: `/tethers/${id}/mooring`,
        method: 'PUT',
        body: { isMoored },
      }),
      invalidatesTags: ['Tethers', 'Log', 'History'],
    }),
    setFrozen: build.mutation<Tether, { id: string; isFrozen: boolean }>({
      query: ({ id, isFrozen }) => ({
        url: `/tethers/${id}/frozen`,
        method: 'PUT',
        body: { isFrozen },
      }),
      invalidatesTags: ['Tethers', 'NeedsYou', 'Documents', 'Ledger', 'Log'],
    }),
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
    history: build.query<TetherState[], string>({
      query: (id) => ({ url: `/tethers/${id}/history` }),
      providesTags: ['History'],
    }),
    goBack: build.mutation<null, { id: string; state: number }>({
      query: ({ id, state }) => ({
        url: `/tethers/${id}/go-back`,
        method: 'POST',
        body: { state },
      }),
      invalidatesTags: ['Tethers', 'NeedsYou', 'Documents', 'Ledger', 'History', 'Log'],
    }),
    compare: build.query<ChangeSlip, CompareQuery>({
      query: ({ from, to }) => ({
        url: `/tethers/compare?${new URLSearchParams({ from, to })}`,
      }),
    }),
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
    office: build.query<OfficeSeen, void>({
      query: () => ({ url: '/office' }),
      providesTags: ['Office'],
    }),
    actInOffice: build.mutation<OfficeSeen, OfficeAct>({
      query: (body) => ({ url: '/office', method: 'POST', body }),
      invalidatesTags: ['Office'],
    }),
    undoInOffice: build.mutation<OfficeSeen, void>({
      query: () => ({ url: '/office/undo', method: 'POST' }),
      invalidatesTags: ['Office'],
    }),
    people: build.query<{ id: string; name: string }[], void>({
      query: () => ({ url: '/ledger/people' }),
      providesTags: ['Me'],
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
    // The two hashes are part of the question, so that an answer is never shown for another state.
    slip: build.query<ChangeSlip, { id: string; base: string; pending: string }>({
      query: ({ id }) => ({ url: `/tethers/${id}/slip` }),
    }),
    snapshot: build.query<Snapshot, string>({
      query: (hash) => ({ url: `/snapshots/${hash}` }),
      // One that never changes is not compared with an earlier answer.
      structuralSharing: false,
      keepUnusedDataFor: 600,
    }),

    sources: build.query<SourceFolder[], void>({
      query: () => ({ url: '/sources' }),
      providesTags: ['Sources'],
    }),

    searchSources: build.query<SourceMatch[], string>({
      query: (words) => ({ url: `/sources/search?${new URLSearchParams({ words })}` }),
      providesTags: ['Sources'],
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
    folderElsewhere: build.query<FolderElsewhere, { id: string; path: string }>({
      query: ({ id, path }) => ({
        url: `/source-folders/${id}/elsewhere?${new URLSearchParams({ path })}`,
      }),
      keepUnusedDataFor: 0,
    }),
    changeFolder: build.mutation<{ id: string }, { id: string } & ChangeFolder>({
      query: ({ id, ...body }) => ({ url: `/source-folders/${id}`, method: 'PATCH', body }),
      invalidatesTags: ['Sources', 'Tethers', 'NeedsYou'],
    }),
    removeFolder: build.mutation<null, string>({
      query: (id) => ({ url: `/source-folders/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Sources'],
    }),
    setSourceMode: build.mutation<null, { id: string; mode: Mode | null }>({
      query: ({ id, mode }) => ({ url: `/sources/${id}/mode`, method: 'PUT', body: { mode } }),
      invalidatesTags: ['Sources', 'Tethers', 'Ledger', 'Log'],
    }),
    jobs: build.query<JobStates, void>({
      query: () => ({ url: '/jobs' }),
      providesTags: ['Jobs'],
    }),
    uses: build.query<SourceUse[], string>({
      query: (id) => ({ url: `/sources/${id}/uses` }),
      providesTags: ['NeedsYou'],
    }),

    log: build.query<LogPage, LogQuery>({
      query: (query) => ({ url: `/log?${asParameters(query)}` }),
      providesTags: ['Log'],
    }),
    logSlip: build.query<ChangeSlip, number>({
      query: (entry) => ({ url: `/log/${entry}/slip` }),
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
  useChangeDocumentMutation,
  useDeleteDocumentMutation,
  useSeeCarryQuery,
  useBundleContentsQuery,
  useCarryForwardMutation,
  useDuplicateDocumentMutation,
  useHoldMutation,
  useOpenedMutation,
  useLookedAtMutation,
  useTakePictureMutation,
  useTethersQuery,
  useVersionsQuery,
  useVersionQuery,
  useKeepVersionMutation,
  useNeedsYouQuery,
  usePlaceMutation,
  useChangeTetherMutation,
  useStaysMutation,
  useUsesQuery,
  useSearchSourcesQuery,
  usePictureLayersQuery,
  usePictureObjectMutation,
  usePlacesQuery,
  useAddFolderMutation,
  useChangeFolderMutation,
  useFolderElsewhereQuery,
  useRemoveFolderMutation,
  useSetSourceModeMutation,
  useJobsQuery,
  useRefreshMutation,
  useLookAgainMutation,
  useFollowAgainMutation,
  useLeaveMutation,
  useSetFrozenMutation,
  useSetMooredMutation,
  useUnlockMutation,
  useSetWritesAtOnceMutation,
  useEditsQuery,
  useEditCellsMutation,
  useDecideEditMutation,
  useWriteBackMutation,
  useDocumentEditsQuery,
  useWriteAllMutation,
  useHistoryQuery,
  useGoBackMutation,
  useCompareQuery,
  useLedgerQuery,
  useOfficeQuery,
  useActInOfficeMutation,
  useUndoInOfficeMutation,
  useLedgerSourcesQuery,
  usePeopleQuery,
  useViewsQuery,
  useSaveViewMutation,
  useRemoveViewMutation,
  useTakeBackMutation,
  useLayOutMutation,
  useSlipQuery,
  useSnapshotQuery,
  useSourcesQuery,
  useLogQuery,
  useLogSlipQuery,
} = api;

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

/** The fault behind a failed request, whatever form the failure took. */
export function faultOf(error: unknown): Fault {
  const known = faultResponseSchema.shape.fault.safeParse(error);
  return known.success ? known.data : fault('unexpected', { detail: 'the request failed' });
}

/** Forgets all that was asked: somebody else signs in. */
export function forgetAll(dispatch: (action: UnknownAction) => unknown): void {
  dispatch(api.util.resetApiState());
  dispatch(readingApi.util.resetApiState());
}
