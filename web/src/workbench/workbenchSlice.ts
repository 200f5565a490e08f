import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** The change slip at the bottom: `opening` asks what to do on opening a document, `asked` was called for. */
export interface Strip {
  reason: 'opening' | 'asked';
  /** Show this object alone, or all that are behind. */
  only: string | null;
}

export interface WorkbenchState {
  /** The object whose panel is shown. */
  selected: string | null;
  /** Objects that stand in the text now, in reading order. */
  inText: string[];
  strip: Strip | null;
  flash: { tetherId: string; row: number; column: number; at: number } | null;
  /** The part of the selected table that its panel sets something for: indices into its area, null for all of them. */
  picked: { tetherId: string; row: number | null; column: number | null } | null;
}

const initialState: WorkbenchState = {
  selected: null,
  inText: [],
  strip: null,
  flash: null,
  picked: null,
};

/** What the workbench shows besides the document itself. */
export const workbenchSlice = createSlice({
  name: 'workbench',
  initialState,
  reducers: {
    // The text reports its own objects, possibly before this.
    documentOpened: ({ inText }) => ({ ...initialState, inText }),
    objectSelected(state, { payload }: PayloadAction<string | null>) {
      state.selected = payload;
      if (state.picked?.tetherId !== payload) state.picked = null;
    },
    cellPicked(state, { payload }: PayloadAction<WorkbenchState['picked']>) {
      state.picked = payload;
    },
    textRead(state, { payload }: PayloadAction<string[]>) {
      state.inText = payload;
    },
    stripOpened(state, { payload }: PayloadAction<Strip>) {
      state.strip = payload;
    },
    stripClosed(state) {
      state.strip = null;
    },
    cellFlashed(state, { payload }: PayloadAction<NonNullable<WorkbenchState['flash']>>) {
      state.flash = payload;
    },
  },
});

export const {
  documentOpened,
  objectSelected,
  textRead,
  stripOpened,
  stripClosed,
  cellFlashed,
  cellPicked,
} = workbenchSlice.actions;
