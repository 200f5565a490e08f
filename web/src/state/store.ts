import { configureStore } from '@reduxjs/toolkit';
import { useDispatch, useSelector, useStore } from 'react-redux';
import { api, readingApi } from './api.ts';
import { connectionSlice } from './connection-slice.ts';
import { workbenchSlice } from './workbench-slice.ts';

export const store = configureStore({
  reducer: {
    [api.reducerPath]: api.reducer,
    [readingApi.reducerPath]: readingApi.reducer,
    [connectionSlice.name]: connectionSlice.reducer,
    [workbenchSlice.name]: workbenchSlice.reducer,
  },
  // Snapshots are large and never change: checking them for mutation at every action would cost more than it finds.
  middleware: (getDefault) =>
    getDefault({ serializableCheck: false, immutableCheck: false }).concat(
      api.middleware,
      readingApi.middleware,
    ),
});

type RootState = ReturnType<typeof store.getState>;
export type AppDispatch = typeof store.dispatch;
export const useAppDispatch = useDispatch.withTypes<typeof store.dispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();
export const useAppStore = useStore.withTypes<typeof store>();
