import { fail, ok, type Result } from '@tether/core';
import { z } from 'zod';
import { drawing } from './drawing/drawing.ts';
import type { DocumentKind } from './kind.ts';
import { report } from './report/report.ts';
import { slides } from './slides/slides.ts';

/** Every kind of document. A new one is added here, and in `web/src/kinds`, where its screens are. */
const KINDS = { report, drawing, slides };

export type KindName = keyof typeof KINDS;
export const KIND_NAMES = Object.keys(KINDS) as KindName[];
export const kindSchema = z.enum(KIND_NAMES);

type ContentOf<Kind> = Kind extends DocumentKind<infer Content> ? Content : never;
/** The content of a document of any kind. */
export type DocumentContent = ContentOfKind<KindName>;
/** The content of a document of one kind. */
export type ContentOfKind<Name extends KindName> = ContentOf<(typeof KINDS)[Name]>;

/** What a kind of document is. The content that it is asked about must be of that kind. */
export function kindOf<Name extends KindName>(name: Name): DocumentKind<ContentOfKind<Name>> {
  return KINDS[name] as unknown as DocumentKind<ContentOfKind<Name>>;
}

/** Content that came from outside, checked. Fault: `request-malformed`, which says what is wrong where. */
export function readContent<Name extends KindName>(
  kind: Name,
  input: unknown,
): Result<ContentOfKind<Name>> {
  const read = kindOf(kind).schema.safeParse(input);
  if (read.success) return ok(read.data);
  const [issue] = read.error.issues;
  const at = ['content', ...(issue?.path ?? [])].join('.');
  return fail('request-malformed', { detail: `${at}: ${issue?.message ?? 'wrong'}` });
}
