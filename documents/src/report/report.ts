import type { DocumentKind } from '../kind.ts';
import { captionName } from '../object/caption.ts';
import { asCopies } from './as-copies.ts';
import { type ReportContent, type ReportNode, reportContentSchema } from './content.ts';
import { knownPart } from './known-part.ts';
import { PICTURE_NODE, REFERENCE_NODE } from './nodes.ts';
import { captionsOf, reportPlacements } from './placements.ts';
import { reportSettings } from './settings.ts';
import { sharedReport } from './shared.ts';

/** Blocks of text that a small picture of a report shows. */
const BEGINNING = 12;

/** The first blocks, with what they refer to by its number among all objects. */
function beginning(content: ReportContent): ReportContent {
  const captions = captionsOf(content);
  const named = (node: ReportNode): ReportNode => {
    if (node.type === REFERENCE_NODE) {
      const found = captions.find(({ tetherId }) => tetherId === node.attrs?.to);
      return { type: 'text', text: found ? captionName(found) : '' };
    }
    return node.content ? { ...node, content: node.content.map(named) } : node;
  };
  return { ...content, content: content.content.slice(0, BEGINNING).map(named) };
}

function picturesIn(content: ReportContent): string[] {
  const hashes = new Set<string>();
  const look = (node: ReportNode) => {
    if (node.type === PICTURE_NODE && typeof node.attrs?.hash === 'string') {
      hashes.add(node.attrs.hash);
    }
    node.content?.forEach(look);
  };
  content.content.forEach(look);
  return [...hashes];
}

/** A report: text on pages, with objects between its paragraphs and inside its lines. */
export const report: DocumentKind<ReportContent> = {
  name: 'report',
  schema: reportContentSchema,
  placements: reportPlacements,
  pictures: picturesIn,
  look: (content) => reportSettings(content).look,
  shared: sharedReport,
  firstContent: (name) => ({
    type: 'doc',
    content: [
      { type: 'heading', attrs: { level: 1 }, content: [{ type: 'text', text: name }] },
      { type: 'paragraph' },
    ],
  }),
  beginning,
  asCopies,
  knownPart,
};
