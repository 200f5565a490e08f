import { CAPTION_NODE, FOOTNOTE_NODE } from '@tether/documents';
import type { Node as TextNode } from '@tiptap/pm/model';
import { lettersOf } from './own-words.ts';

/** How much is written. Figures of objects are not counted: they come from their sources. */
export interface Counts {
  words: number;
  /** As people see them: a letter with its accent is one. */
  characters: number;
  withoutSpaces: number;
  paragraphs: number;
}

/**
 * Counts what is written in a text, or between two places of it. Words and characters are those of Unicode (UAX #29), by the
 * platform: in the language they are in, where it is known.
 */
export function countIn(
  text: TextNode,
  language: string,
  { from, to }: { from: number; to: number } = { from: 0, to: text.content.size },
): Counts {
  const words = new Intl.Segmenter(language, { granularity: 'word' });
  const characters = new Intl.Segmenter(language, { granularity: 'grapheme' });
  const counts: Counts = { words: 0, characters: 0, withoutSpaces: 0, paragraphs: 0 };
  text.nodesBetween(from, to, (node, position) => {
    const isNote = node.type.name === FOOTNOTE_NODE;
    if (!node.isTextblock && !isNote) return true;
    const start = Math.max(from, position + 1) - position - 1;
    const end = Math.min(to, position + 1 + node.content.size) - position - 1;
    const said = start < end ? lettersOf(node, ' ').slice(start, end) : '';
    if (said.trim() === '') return !isNote;
    if (node.type.name !== CAPTION_NODE && !isNote) counts.paragraphs++;
    for (const { isWordLike } of words.segment(said)) if (isWordLike) counts.words++;
    for (const { segment } of characters.segment(said)) {
      counts.characters++;
      if (segment.trim() !== '') counts.withoutSpaces++;
    }
    return !isNote;
  });
  return counts;
}
