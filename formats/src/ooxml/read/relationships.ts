import { posix } from 'node:path';
import { ok, type Result } from '@tether/core';
import type { PackageFile } from '../../package/package-file.ts';
import { children, parseXml } from '../../package/xml.ts';

/** One relationship of a part (ECMA-376 Part 2, 6.5): its type by the last word of the URI, its target as a part name. */
export interface Relationship {
  id: string;
  /** `worksheet`, `styles`, `sharedStrings`, `theme` …, the same for transitional and strict files. */
  type: string;
  /** The target part, without a leading slash; the address itself for external targets. */
  target: string;
  external: boolean;
}

/** The part that holds the relationships of `part`. */
export function relationshipsOf(part: string): string {
  return posix.join(posix.dirname(part), '_rels', `${posix.basename(part)}.rels`);
}

/** The relationships of `part` (`''` for the package itself); none when it has no relationships part. */
export async function readRelationships(
  file: PackageFile,
  part: string,
): Promise<Result<Relationship[]>> {
  const folder = posix.dirname(part);
  const name = relationshipsOf(part);
  if (!file.has(name)) return ok([]);
  const bytes = await file.read(name);
  if (!bytes.ok) return bytes;
  return ok(
    children(parseXml(bytes.value), 'Relationship').map(({ attributes }) => {
      const external = attributes.TargetMode === 'External';
      const target = attributes.Target ?? '';
      return {
        id: attributes.Id ?? '',
        type: (attributes.Type ?? '').split('/').at(-1) ?? '',
        target: external
          ? target
          : target.startsWith('/')
            ? target.slice(1)
            : posix.join(folder, target),
        external,
      };
    }),
  );
}
