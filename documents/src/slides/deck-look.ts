import type { TableStyle } from '@tether/core';

/**
 * How a deck looks: a pair of faces, its colours, and the style of the tables that follow it. Grounds are light: what objects
 * take from their sources is written for white paper.
 */
export interface DeckLook {
  /** What it is called on the screen. */
  name: string;
  /** Faces of titles and of everything else, as style sheets name them. */
  titles: string;
  words: string;
  ground: string;
  ink: string;
  /** Of titles. */
  accent: string;
  tableStyle: TableStyle;
}

export const DECK_LOOKS = {
  'low water': {
    name: 'Low water: white, deep green titles',
    titles: '"Bricolage Grotesque", sans-serif',
    words: '"Source Sans 3", sans-serif',
    ground: '#ffffff',
    ink: '#10242b',
    accent: '#0b4f5c',
    tableStyle: 'hairlines',
  },
  reed: {
    name: 'Reed: warm paper, words with serifs',
    titles: '"Source Serif 4", serif',
    words: '"Source Serif 4", serif',
    ground: '#faf6ee',
    ink: '#2a2118',
    accent: '#8a4b12',
    tableStyle: 'bands',
  },
  silt: {
    name: 'Silt: pale grey, titles in rust',
    titles: '"Source Sans 3", sans-serif',
    words: '"Source Sans 3", sans-serif',
    ground: '#eef1f2',
    ink: '#1d2b31',
    accent: '#9a3b1f',
    tableStyle: 'dark head',
  },
} as const satisfies Record<string, DeckLook>;
export type DeckLookName = keyof typeof DECK_LOOKS;
