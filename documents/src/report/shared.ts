import * as Y from 'yjs';
import type { SharedForm } from '../kind.ts';
import type { Dressing } from '../object/dressing.ts';
import { readDressings, sharedDressings, writeDressing } from '../shared/dressings.ts';
import { partsOf, saidBy, setSaid, writeSaid } from '../shared/entries.ts';
import { nodesFrom, sharedNodes, type TextJson } from '../shared/nodes.ts';
import type { ReportContent } from './content.ts';
import { CAPTIONED_NODE, isPlacedNode } from './nodes.ts';
import { reportSettingsSchema } from './settings.ts';

/** The text of a report that people write together: the blocks of its text. */
export function sharedText(doc: Y.Doc): Y.XmlFragment {
  return doc.getXmlFragment('text');
}

/** What is settled once for a report that people write together, by its name. */
export function sharedSettings(doc: Y.Doc): Y.Map<unknown> {
  return doc.getMap('settings');
}

const PARTS = partsOf(reportSettingsSchema);

function settingsIn(doc: Y.Doc): Record<string, unknown> {
  return saidBy(sharedSettings(doc).entries(), PARTS);
}

/** A report as a shared type: text, settings, and the dressings of its objects each for themselves. */
export const sharedReport: SharedForm<ReportContent> = {
  settings: settingsIn,
  setSetting: (doc, name, value) => setSaid(sharedSettings(doc), PARTS, name, value ?? undefined),

  read(doc) {
    const dressings = readDressings(sharedDressings(doc));
    const attrs = settingsIn(doc);
    const dressed = (node: TextJson): TextJson => ({
      ...node,
      ...(isPlacedNode(node.type)
        ? { attrs: { ...node.attrs, dressing: dressings.get(String(node.attrs?.tetherId)) ?? {} } }
        : {}),
      ...(node.content ? { content: node.content.map(dressed) } : {}),
    });
    return {
      type: 'doc',
      ...(Object.keys(attrs).length > 0 ? { attrs } : {}),
      content: nodesFrom(sharedText(doc).toArray()).map(dressed),
    };
  },

  write(doc, content) {
    const { blocks, dressings } = undressed(content);
    const text = sharedText(doc);
    const standing = text.toArray();
    const before = standing.map((each) => JSON.stringify(nodesFrom([each])[0]));
    // Written and read once more, so that what is compared has passed through the same form.
    const after = blocks.map((block) => JSON.stringify(withoutNothing(block)));
    let start = 0;
    while (start < before.length && before[start] === after[start]) start++;
    let end = 0;
    while (
      end < Math.min(before.length, after.length) - start &&
      before.at(-1 - end) === after.at(-1 - end)
    )
      end++;
    if (before.length - end > start) text.delete(start, before.length - end - start);
    const fresh = blocks.slice(start, blocks.length - end);
    if (fresh.length > 0) text.insert(start, sharedNodes(fresh));

    const attrs = Object.entries(content.attrs ?? {}).filter(([, value]) => value !== null);
    writeSaid(sharedSettings(doc), PARTS, Object.fromEntries(attrs));
    for (const [tetherId, dressing] of dressings) {
      writeDressing(sharedDressings(doc), tetherId, dressing);
    }
  },

  mend,
};

/** Takes every object out that stands further up already, with its caption. */
function mend(doc: Y.Doc): void {
  const seen = new Set<string>();
  const visit = (parent: Y.XmlFragment) => {
    // What follows is looked up before anything is taken out.
    for (const each of parent.toArray()) {
      if (!(each instanceof Y.XmlElement)) continue;
      const [object] = each.nodeName === CAPTIONED_NODE ? [each.get(0)] : [each];
      if (object instanceof Y.XmlElement && isPlacedNode(object.nodeName)) {
        const id = String(object.getAttribute('tetherId'));
        if (seen.has(id)) {
          parent.delete(parent.toArray().indexOf(each), 1);
          continue;
        }
        if (object === each) seen.add(id);
      }
      visit(each);
    }
  };
  visit(sharedText(doc));
}

/** The blocks without dressings, and these by the tethers of their objects. */
export function undressed(content: ReportContent): {
  blocks: TextJson[];
  dressings: Map<string, Dressing>;
} {
  const dressings = new Map<string, Dressing>();
  const bare = (node: TextJson): TextJson => {
    const inner = node.content ? { content: node.content.map(bare) } : {};
    if (!isPlacedNode(node.type)) return { ...node, ...inner };
    const { dressing = {}, ...attrs } = node.attrs ?? {};
    dressings.set(String(attrs.tetherId), dressing as Dressing);
    return { ...node, ...inner, attrs };
  };
  return { blocks: (content.content as TextJson[]).map(bare), dressings };
}

/** A node as it comes back from a shared type: nothing said is not said. */
function withoutNothing({ type, attrs, content, marks, text }: TextJson): TextJson {
  const said = Object.entries(attrs ?? {}).filter(([, value]) => value !== null);
  return {
    type,
    ...(text === undefined ? {} : { text }),
    ...(said.length > 0 ? { attrs: Object.fromEntries(said) } : {}),
    ...(content?.length ? { content: content.map(withoutNothing) } : {}),
    ...(marks?.length ? { marks } : {}),
  };
}
