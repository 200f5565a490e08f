import type {
  ChangeTether,
  CompareQuery,
  LeaveRequest,
  NeedsPage,
  PlaceRequest,
  RefreshRequest,
  RefreshResponse,
  Tether,
  TetherState,
} from '@tether/contract';
import type { ChangeSlip, Snapshot } from '@tether/core';
import { api } from './ask.ts';

/** What is asked about placed objects: how they stand, what changed, and what is done about it. */
export const tethersApi = api.injectEndpoints({
  endpoints: (build) => ({
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
          tethersApi.util.updateQueryData('tethers', documentId, (known) => {
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
  }),
});

export const {
  useTethersQuery,
  useNeedsYouQuery,
  usePlaceMutation,
  useChangeTetherMutation,
  useStaysMutation,
  useRefreshMutation,
  useLookAgainMutation,
  useFollowAgainMutation,
  useLeaveMutation,
  useSetFrozenMutation,
  useSetMooredMutation,
  useHistoryQuery,
  useGoBackMutation,
  useCompareQuery,
  useSlipQuery,
  useSnapshotQuery,
} = tethersApi;
