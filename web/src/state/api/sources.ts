import type {
  AddFolder,
  ChangeFolder,
  FolderElsewhere,
  FolderPlace,
  JobStates,
  SourceFolder,
  SourceMatch,
  SourceUse,
} from '@tether/contract';
import type { Mode } from '@tether/core';
import { api } from './ask.ts';

/** What is asked about source folders and the files in them; not what stands in these (see `reading`). */
const sourcesApi = api.injectEndpoints({
  endpoints: (build) => ({
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
  }),
});

export const {
  useUsesQuery,
  useSearchSourcesQuery,
  usePlacesQuery,
  useAddFolderMutation,
  useChangeFolderMutation,
  useFolderElsewhereQuery,
  useRemoveFolderMutation,
  useSetSourceModeMutation,
  useJobsQuery,
  useSourcesQuery,
} = sourcesApi;
