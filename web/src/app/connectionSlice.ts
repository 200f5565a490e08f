import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** Whether live events reach this screen. */
export const connectionSlice = createSlice({
  name: 'connection',
  initialState: { isLive: true },
  reducers: {
    liveChanged(state, { payload }: PayloadAction<boolean>) {
      state.isLive = payload;
    },
  },
});

export const { liveChanged } = connectionSlice.actions;
