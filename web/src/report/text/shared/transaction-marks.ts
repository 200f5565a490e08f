/** Set on a transaction that brings in text saved elsewhere: its objects are what they say. */
export const REMOTE_TEXT = 'remoteText';

/** Set on a transaction that puts in an object which was just placed: its tether's id, which this screen may not know yet. */
export const OWN_TETHER = 'ownTether';
