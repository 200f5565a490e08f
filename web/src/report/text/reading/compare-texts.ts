import {
  CAPTIONED_NODE,
  CONTENTS_NODE,
  FOOTNOTE_NODE,
  isPlacedNode,
  LIST_NODE,
  PAGE_BREAK_NODE,
  PICTURE_NODE,
  placementSchema,
  REFERENCE_NODE,
  type ReportContent,
  type ReportNode,
} from '@tether/documents';
import { diffArrays, diffWordsWithSpace } from 'diff';

/** Some words of a block, and whether one state of the text alone has them. */
export interface ComparedPart {
  words: string;
  kind: 'both' | 'came' | 'went';
}

/** A block of one or both states of a text. */
export interface ComparedBlock {
  kind: 'same' | 'came' | 'went' | 'changed' | 'dressed';
  parts: ComparedPart[];
}

interface Block {
  words: string;
  /** All of it, with what is not seen in its words: letters, dressings, sizes. */
  whole: string;
}

/**
 * What differs between two states of a text, block by block in the order of the later one; within a block that changed,
 * word by word. `nameOf` gives what an object is called.
 */
export function compareTexts(
  before: ReportContent,
  after: ReportContent,
  nameOf: (tetherId: string) => string | undefined,
): ComparedBlock[] {
  const [old, now] = [before, after].map((content) => blocksOf(content, nameOf)) as [
    Block[],
    Block[],
  ];
  const compared: ComparedBlock[] = [];
  let went: Block[] = [];
  const runs = diffArrays(old, now, { comparator: (a, b) => a.words === b.words });
  let [at, to] = [0, 0];
  const letGo = () => {
    for (const { words } of went) compared.push(whole('went', words));
    went = [];
  };
  for (const { added, removed, value } of runs) {
    if (removed) {
      went = old.slice(at, at + value.length);
      at += value.length;
    } else if (added) {
      const came = now.slice(to, to + value.length);
      to += value.length;
      compared.push(...pairUp(went, came));
      went = [];
    } else {
      letGo();
      for (let each = 0; each < value.length; each++) {
        const [a, b] = [old[at++]!, now[to++]!];
        compared.push(whole(a.whole === b.whole ? 'same' : 'dressed', b.words));
      }
    }
  }
  letGo();
  return compared;
}

/** Blocks that went and came at one place: those that are alike count as one that changed. */
function pairUp(went: readonly Block[], came: readonly Block[]): ComparedBlock[] {
  const left = [...went];
  const blocks: ComparedBlock[] = [];
  for (const each of came) {
    const index = left.findIndex((one) => areAlike(one.words, each.words));
    if (index < 0) {
      blocks.push(whole('came', each.words));
      continue;
    }
    // What stood before it went.
    for (const { words } of left.splice(0, index)) blocks.push(whole('went', words));
    const [one] = left.splice(0, 1);
    blocks.push({ kind: 'changed', parts: partsOf(one!.words, each.words) });
  }
  for (const { words } of left) blocks.push(whole('went', words));
  return blocks;
}

function partsOf(before: string, after: string): ComparedPart[] {
  return diffWordsWithSpace(before, after).map(({ value, added, removed }) => ({
    words: value,
    kind: added ? 'came' : removed ? 'went' : 'both',
  }));
}

/** Whether two texts have at least a third of their words in common. */
function areAlike(one: string, other: string): boolean {
  const words = (text: string) => text.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? [];
  const [a, b] = [words(one), words(other)];
  const known = new Set(a);
  const common = b.filter((word) => known.has(word)).length;
  return common * 3 >= Math.max(a.length, b.length) && common > 0;
}

function whole(kind: ComparedBlock['kind'], words: string): ComparedBlock {
  const side = kind === 'came' || kind === 'went' ? kind : 'both';
  return { kind, parts: [{ words, kind: side }] };
}

function blocksOf(
  content: ReportContent,
  nameOf: (tetherId: string) => string | undefined,
): Block[] {
  const inLine = (node: ReportNode): string => {
    if (node.type === 'text') return node.text ?? '';
    if (node.type === 'hardBreak') return '\n';
    if (node.type === REFERENCE_NODE) return `[${nameOf(String(node.attrs?.to)) ?? 'an object'}]`;
    if (isPlacedNode(node.type)) return `[${objectWords(node)}]`;
    if (node.type === FOOTNOTE_NODE) return ` [note: ${(node.content ?? []).map(inLine).join('')}]`;
    return (node.content ?? []).map(inLine).join('');
  };
  const objectWords = (node: ReportNode): string => {
    const placed = placementSchema.safeParse(node.attrs);
    if (!placed.success) return 'an object';
    const { tetherId, copyOf, form } = placed.data;
    return `${nameOf(tetherId) ?? (copyOf && nameOf(copyOf)) ?? 'an object'}, as a ${form}`;
  };
  const block = (node: ReportNode): string => {
    const inner = node.content ?? [];
    switch (node.type) {
      case 'paragraph':
      case 'heading':
      case 'caption':
        return inLine(node);
      case 'horizontalRule':
        return '[a line]';
      case PAGE_BREAK_NODE:
        return '[a new page]';
      case CONTENTS_NODE:
        return '[the contents]';
      case LIST_NODE:
        return '[the list of tables and figures]';
      case PICTURE_NODE:
        return `[a picture${node.attrs?.alt ? `: ${String(node.attrs.alt)}` : ''}]`;
      case 'tableRow':
        return inner.map(block).join(' | ');
      case 'tableCell':
      case 'tableHeader':
        return inner.map(block).join(' ');
      case CAPTIONED_NODE:
        return inner.map(block).join(' ').trim();
      default:
        return isPlacedNode(node.type) ? `[${objectWords(node)}]` : inner.map(block).join('\n');
    }
  };
  // Items of lists and rows of tables are looked at one by one.
  const flat = (node: ReportNode): ReportNode[] =>
    ['bulletList', 'orderedList', 'listItem', 'blockquote', 'table'].includes(node.type)
      ? (node.content ?? []).flatMap(flat)
      : [node];
  return content.content
    .flatMap(flat)
    .map((node) => ({ words: block(node), whole: asSaid(node) }))
    .filter(({ words }) => words.trim() !== '');
}

/** All that a node says, whatever the order in which it was kept; what says nothing is left out. */
function asSaid(node: ReportNode): string {
  return JSON.stringify(saying(node));
}

function saying(value: unknown): unknown {
  if (Array.isArray(value)) return value.length === 0 ? undefined : value.map(saying);
  if (value === null || typeof value !== 'object') return value ?? undefined;
  const said = Object.entries(value)
    .map(([name, each]) => [name, saying(each)] as const)
    .filter(([, each]) => each !== undefined)
    .sort(([a], [b]) => (a < b ? -1 : 1));
  return said.length === 0 ? undefined : Object.fromEntries(said);
}
