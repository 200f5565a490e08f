import { ok, parseCell, type Result } from '@tether/core';
import type { PackageFile } from '../../package/package-file.ts';
import { children, descendants, parseXml } from '../../package/xml.ts';
import type { Relationship } from './relationships.ts';
import { unescapeText } from './text.ts';

/** The key of a cell's place. */
export const placeKey = (row: number, column: number) => row * 16_384 + column;

/**
 * What was noted at the cells of a sheet: comments (ECMA-376 Part 1, 18.7) and, where a program keeps them as a talk
 * with answers, that talk in its stead.
 */
export async function readNotes(
  file: PackageFile,
  links: readonly Relationship[],
): Promise<Result<Map<number, string>>> {
  const notes = new Map<number, string>();
  for (const { type, target, external } of links) {
    if (external || type !== 'comments') continue;
    const bytes = await file.read(target);
    if (!bytes.ok) return bytes;
    for (const comment of descendants(parseXml(bytes.value), 'comment')) {
      const at = parseCell(comment.attributes.ref ?? '');
      const text = descendants(comment, 't').map((part) => part.text);
      if (at) notes.set(placeKey(at.row, at.column), unescapeText(text.join('')).trim());
    }
  }
  const talks = new Map<number, string[]>();
  for (const { type, target, external } of links) {
    if (external || type !== 'threadedComment') continue;
    const bytes = await file.read(target);
    if (!bytes.ok) return bytes;
    for (const comment of children(parseXml(bytes.value), 'threadedComment')) {
      const at = parseCell(comment.attributes.ref ?? '');
      const text = children(comment, 'text')[0]?.text.trim();
      if (!at || !text) continue;
      const key = placeKey(at.row, at.column);
      talks.set(key, [...(talks.get(key) ?? []), text]);
    }
  }
  for (const [key, texts] of talks) notes.set(key, texts.join('\n'));
  return ok(notes);
}
