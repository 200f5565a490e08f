/** The face of what is written on pages: the same on every screen and in print. */
export const PAGE_FONT = '"Source Sans 3", sans-serif';

/** Height of its capitals in parts of its size: `sCapHeight` of its table `OS/2`, which a test reads from the font. */
export const CAPITALS = 0.66;
