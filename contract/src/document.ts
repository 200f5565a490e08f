import type { Mode } from '@tether/core';
import { type DocumentContent, type KindName, kindSchema } from '@tether/documents';
import { z } from 'zod';
import { modeSchema } from './modes.ts';

/** The content of a document as it is sent: what it must be is said by the document's kind, and checked when that is known. */
const contentSchema = z.custom<DocumentContent>(
  (content) => typeof content === 'object' && content !== null,
  'no content of a document',
);

export const createDocumentSchema = z.object({
  name: z.string().trim().min(1).max(200),
  kind: kindSchema.default('report'),
  /** Content to start with: a person keeping their own version of a document. */
  content: contentSchema.optional(),
});
export type CreateDocument = z.input<typeof createDocumentSchema>;

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
  content: contentSchema,
});
export type SaveDocument = z.infer<typeof saveDocumentSchema>;

/** Why a state of a text was kept: somebody loaded what another person had saved, and this was what they had written. */
export const versionReasonSchema = z.enum(['put aside', 'kept']);

/** A person's text that is to be kept beside the document's own. */
export const keepVersionSchema = z.object({
  why: versionReasonSchema,
  content: contentSchema,
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
  kind: KindName;
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

/** A document as the desk shows it: with as much of its content as a small picture needs. */
export interface DocumentCard<Content = DocumentContent> extends DocumentSummary {
  beginning: Content;
}

/** Somebody keeps everything in a document from being refreshed. */
export interface Hold {
  by: string | null;
  since: string;
}

/** A document with its content. */
export interface DocumentDetail<Content = DocumentContent> extends DocumentSummary {
  content: Content;
}

/** A picture that was taken into a document. */
export interface KeptPicture {
  /** By which it is found at `/api/pictures/:hash`. */
  hash: string;
  /** Pixels. */
  width: number;
  height: number;
  /** It is a drawing of lines and areas alone: in grey these stay lines and areas, `?grey`. */
  isLines: boolean;
  /** It says how large it is in truth. */
  hasUnit: boolean;
}

/** A part of a drawing that can be left out when it is shown: a named group of its SVG. */
export const pictureLayerSchema = z.object({
  /** By which it is left out: `/api/pictures/:hash?without=1,3`. */
  key: z.string(),
  name: z.string(),
});
export type PictureLayer = z.infer<typeof pictureLayerSchema>;

/** Dots of a picture that is made of an object, for each pixel of the screen: enough for print (288 to the inch). */
export const PICTURE_DENSITY = 3;
