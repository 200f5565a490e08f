import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { Area, Fault } from '@tether/core';

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
  /** The source that stands beside the document; its first visible sheet where none is said. */
  alongside: { sourceId: string | null; sheet: string | null } | null;
  /** Cells that are to be seen in it; another `nth` shows them again. */
  shownCells: { area: Area; nth: number } | null;
  /** Whether the panel is shown beside the two. */
  hasPanel: boolean;
  /** How large the paper is drawn: 1 as in print, `fit` as its kind usually fits its pane, `width` as wide as there is room. */
  zoom: number | 'fit' | 'width';
  /** The part of the selected table that its panel sets something for: indices into its area, null for all of them. */
  picked: { tetherId: string; row: number | null; column: number | null } | null;
  /** The cell it began with: its row or column goes back to it. */
  pickedFirst: { row: number; column: number } | null;
  /** Sections of the panel that were unfolded, by title: they stay so for the next object. */
  unfolded: string[];
  /** The thread of comments that is shown. */
  thread: string | null;
  /** Somebody typed while an object was selected, which takes no letters. */
  hasRefusedLetters: boolean;
  /** The cell of the selected object that is being typed in. */
  typing: TypedCell | null;
  /** Cells whose entries were not taken while others were typed in: they open again when those are left. */
  returned: TypedCell[];
}

/** A cell of an object by its indices, with the letters that it is opened with; null for what stands in it. */
interface TypedCell {
  tetherId: string;
  row: number;
  column: number;
  letters: string | null;
  /** Why what was typed was not taken, and whether it was to take the place of a formula. */
  refused?: { fault: Fault; isOver: boolean };
}

const initialState: WorkbenchState = {
  selected: null,
  inText: [],
  strip: null,
  flash: null,
  alongside: null,
  shownCells: null,
  hasPanel: true,
  zoom: 'fit',
  picked: null,
  pickedFirst: null,
  unfolded: ['How it looks'],
  thread: null,
  hasRefusedLetters: false,
  typing: null,
  returned: [],
};

/** What the workbench shows besides the document itself. */
export const workbenchSlice = createSlice({
  name: 'workbench',
  initialState,
  reducers: {
    // The text reports its own objects, possibly before this.
    documentOpened: ({ inText, unfolded }) => ({ ...initialState, inText, unfolded }),
    objectSelected(state, { payload }: PayloadAction<string | null>) {
      state.selected = payload;
      state.hasRefusedLetters = false;
      if (state.picked?.tetherId !== payload) state.picked = null;
    },
    /** Shows a thread in the panel. */
    threadShown(state, { payload }: PayloadAction<string>) {
      state.thread = payload;
      state.hasPanel = true;
      if (!state.unfolded.includes('Comments')) state.unfolded.push('Comments');
    },
    /** Opens a cell for typing; `letters` null shows what stands in it. */
    cellOpened(state, { payload }: PayloadAction<WorkbenchState['typing']>) {
      state.typing = payload ?? state.returned.shift() ?? null;
    },
    /** Opens a cell again whose entry was not taken, as soon as no other one is typed in. */
    cellReturned(state, { payload }: PayloadAction<TypedCell>) {
      if (state.typing === null) state.typing = payload;
      else state.returned.push(payload);
    },
    lettersRefused(state) {
      state.hasRefusedLetters = true;
    },
    cellPicked(state, { payload }: PayloadAction<WorkbenchState['picked']>) {
      state.picked = payload;
      if (payload?.row == null || payload.column === null) return;
      state.pickedFirst = { row: payload.row, column: payload.column };
    },
    sectionFolded(state, { payload }: PayloadAction<{ title: string; isOpen: boolean }>) {
      const { title, isOpen } = payload;
      state.unfolded = state.unfolded.filter((each) => each !== title);
      if (isOpen) state.unfolded.push(title);
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
    alongsideOpened(state, { payload }: PayloadAction<{ sourceId: string | null }>) {
      state.alongside = { sourceId: payload.sourceId, sheet: null };
      state.hasPanel = false;
      state.zoom = 'fit';
    },
    alongsideClosed(state) {
      state.alongside = null;
      state.shownCells = null;
      state.hasPanel = true;
      state.zoom = 'fit';
    },
    /** Brings a sheet, and cells of it, into view beside the document. */
    sourceShown(
      state,
      { payload }: PayloadAction<{ sourceId: string; sheet: string | null; area: Area | null }>,
    ) {
      if (!state.alongside) return;
      const { sourceId, sheet, area } = payload;
      state.alongside = { sourceId, sheet };
      state.shownCells = area && { area, nth: (state.shownCells?.nth ?? 0) + 1 };
    },
    panelShown(state, { payload }: PayloadAction<boolean>) {
      state.hasPanel = payload;
    },
    zoomed(state, { payload }: PayloadAction<WorkbenchState['zoom']>) {
      state.zoom = payload;
    },
    cellFlashed(state, { payload }: PayloadAction<NonNullable<WorkbenchState['flash']>>) {
      state.flash = payload;
    },
  },
});

export const {
  threadShown,
  documentOpened,
  objectSelected,
  lettersRefused,
  textRead,
  stripOpened,
  stripClosed,
  cellFlashed,
  cellPicked,
  cellOpened,
  cellReturned,
  sectionFolded,
  alongsideOpened,
  alongsideClosed,
  sourceShown,
  panelShown,
  zoomed,
} = workbenchSlice.actions;
