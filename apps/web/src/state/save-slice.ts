import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** How the document stands with what is stored. "Saved" means that every edit is. */
export type SaveState =
  | { status: 'saved'; at: number }
  | { status: 'unsaved' }
  | { status: 'saving' }
  | { status: 'failed'; reason: string }
  /** Another tab saved it, or removed it; `reason`: why this tab's version could not be stored over it. */
  | { status: 'elsewhere'; reason?: string; isRemoved?: boolean };

const slice = createSlice({
  name: 'save',
  initialState: { status: 'saved', at: 0 } as SaveState,
  reducers: {
    saveChanged: (_state, { payload }: PayloadAction<SaveState>) => payload,
  },
});

export const { saveChanged } = slice.actions;
export const saveReducer = slice.reducer;
