/** Set on a transaction that brings in text saved elsewhere: its objects are what they say. */
export const REMOTE_TEXT = 'remoteText';

/** Set on a transaction that puts in an object which was just placed: its tether's id, which this screen may not know yet. */
export const OWN_TETHER = 'ownTether';

/** Origin of what this window changes in a document beside its text: settings and dressings. Undo takes it back. */
export const OWN_STEP = 'ownStep';
