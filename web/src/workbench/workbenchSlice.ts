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
}

const initialState: WorkbenchState = { selected: null, inText: [], strip: null, flash: null };

/** What the workbench shows besides the document itself. */
export const workbenchSlice = createSlice({
  name: 'workbench',
  initialState,
  reducers: {
    // The text reports its own objects, possibly before this.
    documentOpened: ({ inText }) => ({ ...initialState, inText }),
    objectSelected(state, { payload }: PayloadAction<string | null>) {
      state.selected = payload;
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

export const { documentOpened, objectSelected, textRead, stripOpened, stripClosed, cellFlashed } =
  workbenchSlice.actions;
