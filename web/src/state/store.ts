import { configureStore } from '@reduxjs/toolkit';
import { useDispatch, useSelector, useStore } from 'react-redux';
import { api, readingApi } from './api.ts';
import { connectionSlice } from './connection-slice.ts';
import { workbenchSlice } from './workbench-slice.ts';

const ANSWERS = [api.reducerPath, readingApi.reducerPath];

export const store = configureStore({
  reducer: {
    [api.reducerPath]: api.reducer,
    [readingApi.reducerPath]: readingApi.reducer,
    [connectionSlice.name]: connectionSlice.reducer,
    [workbenchSlice.name]: workbenchSlice.reducer,
  },
  // While developing, the state is checked for changes outside of reducers and for what is no plain data; but for what the
  // server answered, which is large and kept by its own library: looking through that at every action would take seconds.
  middleware: (getDefault) =>
    getDefault({
      immutableCheck: { ignoredPaths: ANSWERS },
      serializableCheck: { ignoredPaths: ANSWERS, ignoreActions: true },
    }).concat(api.middleware, readingApi.middleware),
});

export type AppStore = typeof store;
export type RootState = ReturnType<typeof store.getState>;
export const useAppDispatch = useDispatch.withTypes<typeof store.dispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();
export const useAppStore = useStore.withTypes<typeof store>();
