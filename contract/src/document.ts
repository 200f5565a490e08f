import {
  type ChartMaking,
  type DocumentLook,
  type ForecastWish,
  MADE_KINDS,
  type Mode,
  type Override,
  type Paper,
  TABLE_STYLES,
  USUAL_LOOK,
  USUAL_PAPER,
} from '@tether/core';
import { z } from 'zod';
import { modeSchema } from './modes.ts';

/** Every kind of node that a text can have; a text with another one is refused, since no editor could show it whole. */
export const NODE_KINDS = [
  'paragraph',
  'heading',
  'bulletList',
  'orderedList',
  'listItem',
  'blockquote',
  'horizontalRule',
  'hardBreak',
  'text',
  'table',
  'tableRow',
  'tableHeader',
  'tableCell',
  'placedObject',
  'placedInline',
  'captioned',
  'caption',
  'reference',
  'listOfObjects',
] as const;
/** Every kind of mark that a piece of text can have. */
export const MARK_KINDS = ['bold', 'italic', 'underline'] as const;

/** A mark or node attribute is plain JSON. */
const attributesSchema = z.record(z.string(), z.json());

/** One node of a document's text. */
export interface DocumentNode {
  type: string;
  attrs?: Record<string, z.infer<ReturnType<typeof z.json>>>;
  content?: DocumentNode[];
  marks?: { type: string; attrs?: Record<string, z.infer<ReturnType<typeof z.json>>> }[];
  text?: string;
}

const nodeSchema: z.ZodType<DocumentNode> = z.lazy(() =>
  z.object({
    type: z.enum(NODE_KINDS),
    attrs: attributesSchema.optional(),
    content: z.array(nodeSchema).max(20_000).optional(),
    marks: z
      .array(z.object({ type: z.enum(MARK_KINDS), attrs: attributesSchema.optional() }))
      .max(20)
      .optional(),
    text: z.string().optional(),
  }),
);

const margin = z.number().min(5).max(80);
export const paperSchema = z.object({
  size: z.enum(['A3', 'A4', 'A5']),
  isLandscape: z.boolean(),
  margins: z.object({ top: margin, right: margin, bottom: margin, left: margin }),
}) satisfies z.ZodType<Paper>;

export const documentLookSchema = z.object({
  tableStyle: z.enum(TABLE_STYLES),
  decimals: z.int().min(0).max(4),
  dates: z.string().min(1).max(40),
}) satisfies z.ZodType<DocumentLook>;

/** A line at the head or foot of every page: texts at its left, in its middle and at its right. */
const runningLineSchema = z.object({
  left: z.string().max(200),
  middle: z.string().max(200),
  right: z.string().max(200),
});
export type RunningLine = z.infer<typeof runningLineSchema>;
const NOTHING: RunningLine = { left: '', middle: '', right: '' };

/** What is settled once for a document. It lives in its text, so that undo brings it back; what is not understood is as usual. */
export const documentSettingsSchema = z.object({
  paper: paperSchema.catch(USUAL_PAPER).default(USUAL_PAPER),
  look: documentLookSchema.catch(USUAL_LOOK).default(USUAL_LOOK),
  header: runningLineSchema.catch(NOTHING).default(NOTHING),
  footer: runningLineSchema.catch(NOTHING).default({ ...NOTHING, right: '{page} / {pages}' }),
});
export type DocumentSettings = z.infer<typeof documentSettingsSchema>;

/** What a document says of itself; as usual where it says nothing. */
export function settingsOf(content: { attrs?: unknown }): DocumentSettings {
  const read = documentSettingsSchema.safeParse(content.attrs ?? {});
  return read.success ? read.data : documentSettingsSchema.parse({});
}

/** The whole text of a document. */
export const documentContentSchema = z
  .object({
    type: z.literal('doc'),
    attrs: attributesSchema.optional(),
    content: z.array(nodeSchema).max(20_000),
  })
  .refine((root) => depth(root as DocumentNode) <= 60, 'the text is nested too deeply');
export type DocumentContent = z.infer<typeof documentContentSchema>;

/**
 * A text with every node and mark of a kind that is not known here taken out, for looking at it, and which kinds these were.
 * What stood in such a node stays where it can: the words of a line.
 */
export function knownPartOf(content: DocumentContent): {
  content: DocumentContent;
  unknown: string[];
} {
  const unknown = new Set<string>();
  const isKnown = (kinds: readonly string[], kind: string) => {
    if (!kinds.includes(kind)) unknown.add(kind);
    return kinds.includes(kind);
  };
  const known = (node: DocumentNode): DocumentNode[] => {
    if (!isKnown(NODE_KINDS, node.type)) {
      return [{ type: 'paragraph', content: [{ type: 'text', text: `[${node.type}]` }] }];
    }
    const { content: inner, marks, ...own } = node;
    return [
      {
        ...own,
        ...(inner ? { content: inner.flatMap((each) => knownIn(node, each)) } : {}),
        ...(marks ? { marks: marks.filter(({ type }) => isKnown(MARK_KINDS, type)) } : {}),
      },
    ];
  };
  const knownIn = (parent: DocumentNode, node: DocumentNode): DocumentNode[] => {
    const isInLine = ['paragraph', 'heading', 'caption'].includes(parent.type);
    if (!isInLine || isKnown(NODE_KINDS, node.type)) return known(node);
    return [{ type: 'text', text: `[${node.type}]` }];
  };
  return {
    content: { ...content, content: content.content.flatMap(known) },
    unknown: [...unknown],
  };
}

function depth(node: DocumentNode): number {
  // Level by level, so that a hostile document cannot exhaust the stack here.
  let levels = 0;
  for (let level: DocumentNode[] = [node]; level.length > 0; levels++) {
    if (levels > 60) break;
    level = level.flatMap((each) => each.content ?? []);
  }
  return levels;
}

/** Name of the node that stands for a placed object between paragraphs; its attributes are `PlacedAttributes`. */
export const PLACED_NODE = 'placedObject';
/** Name of the node that stands for a placed object inside a line of text: a value or a tag. */
export const PLACED_INLINE = 'placedInline';

/** Name of the node that holds a placed object and its caption. */
export const CAPTIONED_NODE = 'captioned';
/** Name of the node with a caption's words. */
export const CAPTION_NODE = 'caption';
/** Name of the node inside a line that names a captioned object by its number. */
export const REFERENCE_NODE = 'reference';
/** Name of the node that lists the captioned objects. */
export const LIST_NODE = 'listOfObjects';

/** In which form a part of a source stands in a document. */
export const FORMS = ['table', 'facsimile', 'chart', 'value', 'tag'] as const;
export const formSchema = z.enum(FORMS);
export type Form = z.infer<typeof formSchema>;

/** Whether a form stands inside a line of text. */
export function isInline(form: Form): boolean {
  return form === 'value' || form === 'tag';
}

/** As what an object is counted in captions and lists. */
export const CAPTION_KINDS = ['table', 'figure'] as const;
export type CaptionKind = (typeof CAPTION_KINDS)[number];

/** As what an object of this form is usually counted. */
export function usualCaption(form: Form): CaptionKind {
  return form === 'chart' ? 'figure' : 'table';
}

export const chartMakingSchema = z.object({
  kind: z.enum(MADE_KINDS),
  seriesBy: z.enum(['columns', 'rows']),
  stacking: z.enum(['none', 'stacked', 'share']),
  title: z.string().max(200),
  legend: z.enum(['top', 'right', 'bottom', 'left']).nullable(),
  withTotals: z.boolean(),
}) satisfies z.ZodType<ChartMaking>;

const followsSchema = z.enum(['source', 'document']);
const colourSchema = z.string().regex(/^#[0-9a-fA-F]{6}$/);
const bandKeySchema = z.object({
  text: z.string().max(4000),
  nth: z.int().min(0),
  before: z.string().max(4000).nullable(),
  after: z.string().max(4000).nullable(),
});
const millimetres = z.number().min(1).max(1000);

/** Something set for a part of a table; see `core/overrides`. */
export const overrideSchema = z.object({
  row: bandKeySchema.nullable(),
  column: bandKeySchema.nullable(),
  look: z
    .object({
      align: z.enum(['left', 'center', 'right']),
      bold: z.boolean(),
      italic: z.boolean(),
      colour: colourSchema,
      fill: z.union([colourSchema, z.literal('none')]),
      format: z.string().min(1).max(120),
      width: millimetres,
      height: millimetres,
      isHidden: z.boolean(),
    })
    .partial(),
}) satisfies z.ZodType<Override>;

/** How the series of a table or chart are carried on. */
export const forecastWishSchema = z.object({
  periods: z.int().min(1).max(400),
  season: z.union([z.literal('found'), z.literal('none'), z.int().min(2).max(400)]),
  confidence: z.number().min(50).max(99),
}) satisfies z.ZodType<ForecastWish>;

/** How a placed object is dressed beyond what its source says. It lives in the text, so that undo brings it back. */
export const dressingSchema = z.object({
  /** Of a table: what of its look follows the document instead of the source. */
  table: z
    .object({
      letters: followsSchema,
      fills: followsSchema,
      formats: followsSchema,
      widths: followsSchema,
    })
    .partial()
    .optional(),
  /** Of a table: what was set for its cells, rows and columns. */
  overrides: z.array(overrideSchema).max(500).optional(),
  /** Of a table: in how many parts its rows stand side by side. */
  beside: z.int().min(1).max(6).optional(),
  /** Of a facsimile or chart: its width in millimetres; absent for as wide as it is, or as the text. */
  width: millimetres.optional(),
  /** Of a chart: its height in millimetres. */
  height: millimetres.optional(),
  /** Of a chart; absent for as it is suggested, or as the source draws it. */
  chart: chartMakingSchema.optional(),
  /** Of a table or a chart made here: how its series are carried on. */
  forecast: forecastWishSchema.optional(),
  /** Of a value: words around it, and a number format code of its own. */
  value: z
    .object({
      before: z.string().max(60),
      after: z.string().max(60),
      format: z.string().max(120),
    })
    .partial()
    .optional(),
});
export type Dressing = z.infer<typeof dressingSchema>;

/**
 * Attributes of a placed object's node. `copyOf` names the tether that a copied object was copied from. A form or dressing
 * that nobody knows is as if nothing were said.
 */
export const placedAttributesSchema = z.object({
  tetherId: z.uuid(),
  copyOf: z.uuid().nullish(),
  form: formSchema.catch('table').default('table'),
  dressing: dressingSchema.catch({}).default({}),
});
export type PlacedAttributes = z.infer<typeof placedAttributesSchema>;

/** Whether a node stands for a placed object. */
export function isPlacedNode(type: string): boolean {
  return type === PLACED_NODE || type === PLACED_INLINE;
}

/** The placed objects of a document in reading order. */
export function placedObjects(content: { content: DocumentNode[] }): PlacedAttributes[] {
  const found: PlacedAttributes[] = [];
  const visit = (nodes: readonly DocumentNode[]) => {
    for (const node of nodes) {
      if (isPlacedNode(node.type)) {
        const attributes = placedAttributesSchema.safeParse(node.attrs);
        if (attributes.success) found.push(attributes.data);
      }
      if (node.content) visit(node.content);
    }
  };
  visit(content.content);
  return found;
}

/** A captioned object with its number among those of its kind. */
export interface NumberedCaption {
  tetherId: string;
  kind: CaptionKind;
  number: number;
}

/** How an object is called by its number: `Table 3`. */
export function captionName({ kind, number }: Pick<NumberedCaption, 'kind' | 'number'>): string {
  return `${kind === 'table' ? 'Table' : 'Figure'} ${number}`;
}

/** Counts captions in reading order, each kind by itself. `captions` are those of the text from top to bottom. */
export function numberCaptions(
  captions: readonly { tetherId: string; kind: CaptionKind }[],
): NumberedCaption[] {
  const counts = { table: 0, figure: 0 };
  return captions.map(({ tetherId, kind }) => ({ tetherId, kind, number: ++counts[kind] }));
}

/** The captioned objects of a document in reading order. */
export function captionsOf(content: { content: DocumentNode[] }): NumberedCaption[] {
  const found: { tetherId: string; kind: CaptionKind }[] = [];
  const visit = (nodes: readonly DocumentNode[]) => {
    for (const node of nodes) {
      if (node.type === CAPTIONED_NODE) {
        const [object] = placedObjects({ content: node.content?.slice(0, 1) ?? [] });
        const kind = node.attrs?.kind === 'figure' ? 'figure' : 'table';
        if (object) found.push({ tetherId: object.tetherId, kind });
      } else if (node.content) visit(node.content);
    }
  };
  visit(content.content);
  return numberCaptions(found);
}

export const createDocumentSchema = z.object({
  name: z.string().trim().min(1).max(200),
  /** Text to start with: a person keeping their own version of a document. */
  content: documentContentSchema.optional(),
});
export type CreateDocument = z.infer<typeof createDocumentSchema>;

/** What may be changed about a document besides its text. */
export const changeDocumentSchema = z.object({
  name: z.string().trim().min(1).max(200).optional(),
  /** When its objects refresh; null for as usual. */
  mode: modeSchema.nullable().optional(),
  /** Per cent of an object's cells that may change without anybody looking. */
  share: z.int().min(1).max(100).optional(),
});
export type ChangeDocument = z.infer<typeof changeDocumentSchema>;

export const holdSchema = z.object({ isHeld: z.boolean() });

/** `version` is the one the text was written upon; saving fails when another has been saved since. */
export const saveDocumentSchema = z.object({
  version: z.int().min(1),
  content: documentContentSchema,
});
export type SaveDocument = z.infer<typeof saveDocumentSchema>;

/** Why a state of a text was kept: somebody loaded what another person had saved, and this was what they had written. */
export const versionReasonSchema = z.enum(['put aside']);

/** A person's text that is to be kept beside the document's own. */
export const keepVersionSchema = z.object({
  why: versionReasonSchema,
  content: documentContentSchema,
});
export type KeepVersion = z.infer<typeof keepVersionSchema>;

/** A kept state of a document's text. */
export interface DocumentVersion {
  id: string;
  at: string;
  by: string | null;
  why: z.infer<typeof versionReasonSchema>;
}

/** A kept state with its text. */
export interface DocumentVersionDetail extends DocumentVersion {
  content: DocumentContent;
}

/** How many objects of a document have each standing. */
export type StandingCounts = Partial<Record<string, number>>;

/** A document as the desk lists it. */
export interface DocumentSummary {
  id: string;
  kind: 'report';
  name: string;
  version: number;
  savedAt: string;
  savedBy: string | null;
  standings: StandingCounts;
  /** When its objects refresh; null for as usual. */
  mode: Mode | null;
  share: number;
  hold: Hold | null;
}

/** Somebody keeps everything in a document from being refreshed. */
export interface Hold {
  by: string | null;
  since: string;
}

/** A document with its text. */
export interface DocumentDetail extends DocumentSummary {
  content: DocumentContent;
}
