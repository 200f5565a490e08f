import { BUNDLE_MANIFEST, BUNDLE_VERSION, type Bundle, bundleSchema } from '@tether/contract';
import { fail, ok, type Result } from '@tether/core';
import { type DocumentContent, readContent } from '@tether/documents';
import { PackageFile } from '@tether/formats';
import { z } from 'zod';
import { boundsFault } from '../../storage/json-bounds.ts';
import { reasonOf } from '../../tell.ts';

/** What a part of text may be at most: a manifest with its document, or what an object shows. */
const MAX_TEXT_BYTES = 64 << 20;

/** A bundle that is open: its manifest, checked, and its parts. Whoever has it closes it. */
export interface OpenedBundle {
  manifest: Bundle;
  content: DocumentContent;
  parts: PackageFile;
}

/**
 * Opens a bundle that came from anywhere. Faults: `bundle-not-one` with what is wrong, `bundle-newer`.
 */
export async function readBundle(path: string, shownPath: string): Promise<Result<OpenedBundle>> {
  const wrong = (detail: string) => fail('bundle-not-one', { path: shownPath, detail });
  const opened = await PackageFile.open(path, shownPath);
  if (!opened.ok) return wrong('it is no zip, or not whole');
  const parts = opened.value;
  const refuse = async <T>(refusal: Result<T>) => {
    await parts.close();
    return refusal;
  };
  if (!parts.has(BUNDLE_MANIFEST)) return refuse(wrong(`it has no ${BUNDLE_MANIFEST}`));
  const text = await readJson(parts, BUNDLE_MANIFEST);
  if (!text.ok) return refuse(wrong(text.fault.message));
  // A later version may have other parts: that is said before any of them is found wrong.
  const version = z.object({ version: z.int() }).safeParse(text.value);
  if (version.success && version.data.version > BUNDLE_VERSION) {
    return refuse(fail('bundle-newer', { path: shownPath }));
  }
  try {
    const read = bundleSchema.safeParse(text.value);
    if (!read.success) {
      const [issue] = read.error.issues;
      return refuse(wrong(`${BUNDLE_MANIFEST}, ${issue?.path.join('.')}: ${issue?.message}`));
    }
    const manifest = read.data;
    const content = readContent(manifest.document.kind, manifest.document.content);
    if (!content.ok) return refuse(wrong(content.fault.message));
    const lost = manifest.objects.find(({ source }) => source >= manifest.sources.length);
    if (lost) return refuse(wrong(`the source of “${lost.name}” is not in it`));
    return ok({ manifest, content: content.value, parts });
  } catch (error) {
    // Nested deeper than anything can be read.
    return refuse(wrong(reasonOf(error)));
  }
}

/** A part as JSON, within bounds. Faults: those of the part, `request-malformed`. */
export async function readJson(parts: PackageFile, part: string): Promise<Result<unknown>> {
  if (parts.sizeOf(part) > MAX_TEXT_BYTES) {
    return fail('request-malformed', { detail: `${part} is too large` });
  }
  const bytes = await parts.read(part);
  if (!bytes.ok) return bytes;
  const odd = boundsFault(bytes.value);
  if (odd !== null) return fail('request-malformed', { detail: `${part}: ${odd}` });
  try {
    return ok(JSON.parse(bytes.value.toString('utf8')) as unknown);
  } catch {
    return fail('request-malformed', { detail: `${part} is no JSON` });
  }
}
