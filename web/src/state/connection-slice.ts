import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** Whether live events reach this screen. */
export const connectionSlice = createSlice({
  name: 'connection',
  initialState: { isLive: true, hasDatabase: true },
  reducers: {
    /** Whether the server has its database. */
    databaseChanged(state, { payload }: PayloadAction<boolean>) {
      state.hasDatabase = payload;
    },
    liveChanged(state, { payload }: PayloadAction<boolean>) {
      state.isLive = payload;
    },
  },
});

export const { databaseChanged, liveChanged } = connectionSlice.actions;
