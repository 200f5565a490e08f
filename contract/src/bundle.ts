import type { CellType, Snapshot } from '@tether/core';
import { type DocumentContent, formSchema, kindSchema } from '@tether/documents';
import { z } from 'zod';
import { modeSchema } from './modes.ts';
import { areaSchema, sourceReadingSchema } from './sources.ts';
import { reachSchema, unlockedSchema } from './tethers.ts';

/** What a bundle calls itself in its manifest. */
export const BUNDLE_FORMAT = 'tether bundle';
export const BUNDLE_VERSION = 1;
/** Its manifest, among the parts of the zip. */
export const BUNDLE_MANIFEST = 'bundle.json';
/** The largest bundle that is made or opened. */
export const MAX_BUNDLE_BYTES = 1 << 30;

const hash = z.string().regex(/^[0-9a-f]{64}$/);
const part = z.string().min(1).max(400);
const value = z.union([z.number(), z.string().max(40_000), z.boolean()]);
const place = { row: z.int().min(1), column: z.int().min(1) };
const types = z.enum([
  'number',
  'text',
  'boolean',
  'date',
  'error',
  'blank',
  'uncomputed',
] as const satisfies readonly CellType[]);
const faceSchema = z.object({ type: types, value, text: z.string().max(40_000) });

/**
 * What an object shows, as it comes in a bundle: as much of it is asked as keeps what draws it from failing. How a chart is
 * made up is tried by drawing it.
 */
export const bundledSnapshotSchema = z.custom<Snapshot>(
  (input) =>
    z
      .looseObject({
        sheet: z.string(),
        area: areaSchema,
        cells: z
          .array(
            z.looseObject({
              ...place,
              ...faceSchema.shape,
              format: z.string().optional(),
              dress: z.int().min(0).optional(),
            }),
          )
          .max(2_000_000),
        merges: z.array(areaSchema),
        columns: z.array(z.looseObject({ index: z.int().min(1), size: z.number().optional() })),
        rows: z.array(z.looseObject({ index: z.int().min(1), size: z.number().optional() })),
        dresses: z.array(
          z.looseObject({ letters: z.looseObject({ family: z.string(), size: z.number() }) }),
        ),
        defaults: z.object({
          columnWidth: z.number(),
          rowHeight: z.number(),
          digitWidth: z.number(),
        }),
      })
      .safeParse(input).success,
  'not what an object shows',
);

/** A correction that was not written back yet. */
const editSchema = z.object({
  ...place,
  value: value.nullable(),
  agreed: faceSchema.nullable(),
  isGone: z.boolean(),
  isOverFormula: z.boolean(),
});

/**
 * The manifest of a bundle: a document, its objects, and the sources that these take from. What is large lies in parts of its
 * own: copies of sources, what each object shows, pictures.
 */
export const bundleSchema = z.object({
  format: z.literal(BUNDLE_FORMAT),
  version: z.int().min(1),
  /** ISO 8601. */
  madeAt: z.iso.datetime(),
  document: z.object({
    kind: kindSchema,
    name: z.string().trim().min(1).max(200),
    mode: modeSchema.nullable(),
    share: z.int().min(1).max(100),
    /** What it must be is said by its kind. */
    content: z.custom<DocumentContent>((content) => typeof content === 'object' && !!content),
  }),
  sources: z
    .array(
      z.object({
        folder: z.string().min(1).max(200),
        /** Below the folder, with `/` between. */
        path: z.string().min(1).max(1_000),
        /** SHA-256 of its bytes; null where there is no copy of it. */
        hash: hash.nullable(),
        bytes: z.int().min(0),
        /** The part with its bytes; null where the file could not be read when the bundle was made. */
        part: part.nullable(),
        reading: sourceReadingSchema.partial().nullable(),
        mode: modeSchema.nullable(),
      }),
    )
    .max(10_000),
  objects: z
    .array(
      z.object({
        /** As the content names it. */
        id: z.uuid(),
        name: z.string().min(1).max(400),
        form: formSchema,
        reach: reachSchema,
        /** Which of the sources, counted from 0. */
        source: z.int().min(0),
        /** The part with what it shows of its source. */
        shows: part,
        refreshedAt: z.iso.datetime(),
        mode: modeSchema.nullable(),
        isFrozen: z.boolean(),
        unlocked: unlockedSchema.nullable(),
        writesAtOnce: z.boolean(),
        edits: z.array(editSchema).max(100_000),
      }),
    )
    .max(100_000),
  pictures: z.array(z.object({ hash, part })).max(10_000),
});
export type Bundle = z.infer<typeof bundleSchema>;

/** What a bundle of a document would hold. */
export interface BundleContents {
  objects: number;
  /** Of them those with corrections that were not written back. */
  edited: number;
  sources: {
    /** `folder/path` */
    path: string;
    bytes: number;
    /** Whether the file is there to be copied. */
    isThere: boolean;
  }[];
  pictures: number;
}

/** What a bundle that arrived holds, and where its sources would come to lie. */
export interface BundleSeen {
  /** What the document may be called here. */
  name: string;
  madeAt: string;
  objects: number;
  sources: {
    /** `folder/path` where it was packed. */
    path: string;
    bytes: number;
    objects: number;
    /** The file here with the same content, to which its objects would be tied. */
    known: { id: string; path: string } | null;
    /** Whether a copy of it came along. */
    hasCopy: boolean;
  }[];
}

/** What a bundle that arrives is called. */
export const bundleNameSchema = z.object({ file: z.string().trim().min(1).max(255) });

export const openBundleSchema = z.object({
  /** Where copies of its sources are put. */
  folder: z.uuid(),
  /** What the document is called here. */
  name: z.string().trim().min(1).max(200),
  /** Whether objects are tied to files here that have the same content. */
  known: z.enum(['yes', 'no']),
});
export type OpenBundle = z.infer<typeof openBundleSchema>;

/** What came of it. */
export interface BundleOpened {
  documentId: string;
  /** `folder/path` of the copies that were put in. */
  copies: string[];
  /** Sources of which there is neither a copy nor a file here: their objects keep what they show. */
  missing: string[];
}
