import { FOOTNOTE_NODE } from '@tether/documents';
import type { Node as TextNode } from '@tiptap/pm/model';

/**
 * The letters of a line, one for each place of it: what is no letter takes as many signs as it takes places. The words of
 * its notes are not in it: they stand at the foot of the page.
 */
export function lettersOf(line: TextNode, noLetter: string): string {
  let letters = '';
  line.forEach((node) => {
    letters += node.isText ? (node.text ?? '') : noLetter.repeat(node.nodeSize);
  });
  return letters;
}

/** What a line or block says, without the words of its notes. */
export function ownWords(node: TextNode): string {
  let words = '';
  node.descendants((each) => {
    if (each.type.name === FOOTNOTE_NODE) return false;
    if (each.isText) words += each.text ?? '';
    return true;
  });
  return words;
}
