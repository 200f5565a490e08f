import * as Y from 'yjs';

/** A node of a text as JSON, as the editor writes it. */
export interface TextJson {
  type: string;
  attrs?: Record<string, unknown>;
  content?: TextJson[];
  marks?: { type: string; attrs?: Record<string, unknown> }[];
  text?: string;
}

/** Lines of words. An empty one has its text already: two who begin to write in it at the same time write in the same. */
const LINES: ReadonlySet<string> = new Set(['paragraph', 'heading', 'caption', 'footnote']);

/**
 * Nodes as shared types, the way the editor's own binding has them: an element with attributes for each node, one text for
 * each run of words, whose formats are the marks.
 */
export function sharedNodes(nodes: readonly TextJson[]): (Y.XmlElement | Y.XmlText)[] {
  const shared: (Y.XmlElement | Y.XmlText)[] = [];
  let run: TextJson[] = [];
  const endRun = () => {
    if (run.length > 0) shared.push(sharedText(run));
    run = [];
  };
  for (const node of nodes) {
    if (node.type === 'text') {
      run.push(node);
      continue;
    }
    endRun();
    const element = new Y.XmlElement<Record<string, unknown> & { [key: string]: never }>(node.type);
    for (const [name, value] of Object.entries(node.attrs ?? {})) {
      if (value !== null && value !== undefined) element.setAttribute(name, value as never);
    }
    const inner = sharedNodes(node.content ?? []);
    element.insert(0, inner.length === 0 && LINES.has(node.type) ? [new Y.XmlText()] : inner);
    shared.push(element as unknown as Y.XmlElement);
  }
  endRun();
  return shared;
}

function sharedText(run: readonly TextJson[]): Y.XmlText {
  const text = new Y.XmlText();
  text.applyDelta(
    run.map(({ text: words = '', marks = [] }) => ({
      insert: words,
      attributes: Object.fromEntries(marks.map(({ type, attrs }) => [type, attrs ?? {}])),
    })),
  );
  return text;
}

/** Shared types as nodes again. */
export function nodesFrom(shared: readonly unknown[]): TextJson[] {
  return shared.flatMap((each) => {
    if (each instanceof Y.XmlText) return textFrom(each);
    if (!(each instanceof Y.XmlElement)) return [];
    const attrs = each.getAttributes() as Record<string, unknown>;
    const content = nodesFrom(each.toArray());
    return [
      {
        type: each.nodeName,
        ...(Object.keys(attrs).length > 0 ? { attrs } : {}),
        ...(content.length > 0 ? { content } : {}),
      },
    ];
  });
}

function textFrom(shared: Y.XmlText): TextJson[] {
  const pieces = shared.toDelta() as { insert: unknown; attributes?: Record<string, unknown> }[];
  return pieces.flatMap(({ insert, attributes = {} }) => {
    if (typeof insert !== 'string' || insert === '') return [];
    const marks = Object.entries(attributes)
      .filter(([, said]) => said !== null)
      .map(([name, said]) => ({
        // Marks of which several may lie over each other have a hash behind their name.
        type: name.replace(/--.*$/, ''),
        ...(typeof said === 'object' && Object.keys(said!).length > 0
          ? { attrs: said as Record<string, unknown> }
          : {}),
      }));
    return [{ type: 'text', text: insert, ...(marks.length > 0 ? { marks } : {}) }];
  });
}
