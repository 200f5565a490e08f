/** Pixels of the line that says that a table goes on. */
export const CONTINUED_HEIGHT = 22;
