import type { DemoPerson, OfficeAct, OfficeSeen, Person, SignInRequest } from '@tether/contract';
import { api } from './ask.ts';

/** What is asked about who is signed in, who else there is, and what the stand-in office does. */
const peopleApi = api.injectEndpoints({
  endpoints: (build) => ({
    me: build.query<Person, void>({ query: () => ({ url: '/me' }), providesTags: ['Me'] }),
    demoPeople: build.query<DemoPerson[], void>({ query: () => ({ url: '/demo-people' }) }),
    signIn: build.mutation<Person, SignInRequest>({
      query: (body) => ({ url: '/sign-in', method: 'POST', body }),
    }),
    signOut: build.mutation<null, void>({ query: () => ({ url: '/sign-out', method: 'POST' }) }),
    people: build.query<{ id: string; name: string }[], void>({
      query: () => ({ url: '/ledger/people' }),
      providesTags: ['Me'],
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
  }),
});

export const {
  useMeQuery,
  useDemoPeopleQuery,
  useSignInMutation,
  useSignOutMutation,
  useOfficeQuery,
  useActInOfficeMutation,
  useUndoInOfficeMutation,
  usePeopleQuery,
} = peopleApi;
