import { fail, ok, type Result } from '@tether/core';
import { z } from 'zod';
import type { DocumentKind } from './kind.ts';
import { report } from './report/report.ts';

/** Every kind of document. A new one is added here, and in `web/src/kinds`, where its screens are. */
const KINDS = { report };

export type KindName = keyof typeof KINDS;
export const KIND_NAMES = Object.keys(KINDS) as KindName[];
export const kindSchema = z.enum(KIND_NAMES);

type ContentOf<Kind> = Kind extends DocumentKind<infer Content> ? Content : never;
/** The content of a document of any kind. */
export type DocumentContent = ContentOf<(typeof KINDS)[KindName]>;

/** What a kind of document is. The content that it is asked about must be of that kind. */
export function kindOf(name: KindName): DocumentKind<DocumentContent> {
  return KINDS[name];
}

/** Content that came from outside, checked. Fault: `request-malformed`, which says what is wrong where. */
export function readContent(kind: KindName, input: unknown): Result<DocumentContent> {
  const read = kindOf(kind).schema.safeParse(input);
  if (read.success) return ok(read.data);
  const [issue] = read.error.issues;
  const at = ['content', ...(issue?.path ?? [])].join('.');
  return fail('request-malformed', { detail: `${at}: ${issue?.message ?? 'wrong'}` });
}
