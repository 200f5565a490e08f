import type { Size } from '@tether/core';
import type { Arrangement } from './content.ts';

/** A text that a new slide begins with. */
interface Begun {
  role: 'title' | 'words';
  x: number;
  y: number;
  width: number;
  height: number;
  /** Height of its capitals. */
  letters: number;
}

/** Millimetres at the sides of slides that stay free. */
export const SLIDE_MARGIN = 16;

/** The texts that a slide begins with, in millimetres of a slide of this size. */
export function arranged(arrangement: Arrangement, { width, height }: Size): Begun[] {
  const [across, left] = [width - 2 * SLIDE_MARGIN, SLIDE_MARGIN];
  const title: Begun = { role: 'title', x: left, y: 12, width: across, height: 16, letters: 7 };
  const body = { role: 'words' as const, y: 34, height: height - 34 - 16, letters: 4.5 };
  const half = (across - SLIDE_MARGIN / 2) / 2;
  switch (arrangement) {
    case 'opening':
      return [
        { ...title, y: height * 0.34, height: 24, letters: 10 },
        { role: 'words', x: left, y: height * 0.34 + 28, width: across, height: 14, letters: 5 },
      ];
    case 'title and words':
      return [title, { ...body, x: left, width: across }];
    case 'two halves':
      return [
        title,
        { ...body, x: left, width: half },
        { ...body, x: left + half + SLIDE_MARGIN / 2, width: half },
      ];
    case 'empty':
      return [];
  }
}
