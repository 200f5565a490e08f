/** Origin of what this window changes in the shared parts of a document. Undo takes it back. */
export const OWN_STEP = 'ownStep';
