import type { TextRun } from '@tether/core';
import { child, children, parseXml } from '../../package/xml.ts';
import type { StylesPart } from './styles.ts';
import { unescapeText } from './text.ts';

/** The parts of a rich text (ECMA-376 Part 1, 18.4.4), from the content of its `si` or `is` element. */
export function parseRuns(content: string, styles: StylesPart): TextRun[] {
  const root = parseXml(Buffer.from(`<si>${content}</si>`));
  return children(root, 'r').map((run) => {
    const properties = child(run, 'rPr');
    const letters = styles.readRunLetters(properties);
    const shift = child(properties, 'vertAlign')?.attributes.val;
    return {
      text: unescapeText(child(run, 't')?.text ?? ''),
      ...(letters ? { letters } : {}),
      ...(shift === 'superscript' ? { shift: 'super' as const } : {}),
      ...(shift === 'subscript' ? { shift: 'sub' as const } : {}),
    };
  });
}
