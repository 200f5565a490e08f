import type {
  BundleContents,
  Carried,
  Carry,
  CarrySeen,
  ChangeDocument,
  CreateDocument,
  DocumentCard,
  DocumentDetail,
  DocumentVersion,
  DocumentVersionDetail,
  KeepVersion,
  KeptPicture,
  LookedAt,
  PictureLayer,
} from '@tether/contract';
import { api } from './ask.ts';

/** What is asked about documents: opening, changing, keeping and copying them. */
export const documentsApi = api.injectEndpoints({
  endpoints: (build) => ({
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
  }),
});

export const {
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
  useVersionsQuery,
  useVersionQuery,
  useKeepVersionMutation,
  usePictureLayersQuery,
  usePictureObjectMutation,
} = documentsApi;
