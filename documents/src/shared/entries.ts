import type * as Y from 'yjs';
import type { z } from 'zod';

/**
 * How the properties of a part of a shared document lie in it: as single entries, so that what two people set of it at the
 * same time is kept from both. The schema of the part decides; nothing is named for it:
 *
 * - an object lies by its properties (`look.decimals`), in any depth, unless it can be missing as a whole (null) or is said to
 *   be one value (`asOneValue`), such as a place;
 * - a record by its keys (`places.P-01`);
 * - one of several kinds of objects by its kind, and by the properties of each kind (`from`, `from.along.unit`);
 * - a list of distinct texts by these (`labels.Pile`), with their numbers in its order (`asDistinct`);
 * - anything else is one value.
 */
export type Parts = ReadonlyMap<string, Split>;

type Split =
  | { as: 'record' }
  /** `most`: of its texts so many are read, however many came together. */
  | { as: 'distinct'; most: number }
  /** `usual`: what it says where nothing is set. */
  | { as: 'object'; parts: Parts; usual: Record<string, unknown> }
  | { as: 'kinds'; kinds: ReadonlyMap<string, Parts> };

/** Entries by their paths. */
type Entries = Map<string, unknown>;

type Said = Record<string, unknown>;

/** Says of a schema that what it describes is one value, whatever it is made of. */
export function asOneValue<T extends z.ZodType>(schema: T): T {
  return schema.meta({ lies: 'as one' }) as T;
}

/**
 * Says of a list that each of its texts stands in it once, and that it has so many at most: several people may add more to it
 * at the same time than one may, which must not make it unreadable.
 */
export function asDistinct<T extends z.ZodArray>(schema: T, most: number): T {
  return schema.max(most).meta({ lies: 'distinct', most }) as T;
}

/** How what a schema describes lies in a shared document. */
export function partsOf(schema: z.ZodObject): Parts {
  const parts = new Map<string, Split>();
  for (const [name, property] of Object.entries(schema.shape)) {
    const split = splitOf(property as z.ZodType);
    if (split) parts.set(name, split);
  }
  return parts;
}

function splitOf(schema: z.ZodType): Split | null {
  const { def } = schema as unknown as { def: Definition };
  if (def.type === 'default' || def.type === 'catch' || def.type === 'optional') {
    const inner = splitOf(def.innerType!);
    if (inner?.as !== 'object' || def.type !== 'default') return inner;
    return withUsual(inner, schema.parse(undefined) as Said);
  }
  const { lies, most } = schema.meta() ?? {};
  if (lies === 'as one') return null;
  if (lies === 'distinct') return { as: 'distinct', most: Number(most) };
  if (def.type === 'record') return { as: 'record' };
  if (def.type === 'object') {
    return { as: 'object', parts: partsOf(schema as unknown as z.ZodObject), usual: {} };
  }
  if (def.type !== 'union' || def.discriminator === undefined) return null;
  const kinds = def.options!.map((option): [string, Parts] => {
    const kind = option.shape[KIND] as z.ZodLiteral<string>;
    return [kind.value, partsOf(option)];
  });
  return { as: 'kinds', kinds: new Map(kinds) };
}

function withUsual(split: Split & { as: 'object' }, usual: Said): Split {
  const parts = [...split.parts].map(([name, inner]): [string, Split] => {
    const own = usual[name];
    return [name, inner.as === 'object' && isPlain(own) ? withUsual(inner, own) : inner];
  });
  return { ...split, parts: new Map(parts), usual };
}

/** The property that tells which kind of object one of several is. */
const KIND = 'kind';

/** What is read of the definition of a schema. */
interface Definition {
  type: string;
  innerType?: z.ZodType;
  discriminator?: string;
  options?: z.ZodObject[];
}

export const isSame = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

const isPlain = (value: unknown): value is Said =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** What entries say. Equal entries, in whatever order, say what reads equal. */
export function saidBy(entries: Iterable<readonly [string, unknown]>, parts: Parts): Said {
  const said: Said = {};
  for (const [name, { own, below }] of grouped(entries)) {
    const split = parts.get(name);
    if (split) said[name] = saidValue(split, own, below);
    else {
      if (own !== undefined) said[name] = own;
      // What a later version splits is kept as it lies.
      for (const [path, value] of below) said[`${name}.${path}`] = value;
    }
  }
  return said;
}

/** Entries by the first step of their paths: what lies under it itself, and what lies below. */
function grouped(
  entries: Iterable<readonly [string, unknown]>,
): Map<string, { own: unknown; below: [string, unknown][] }> {
  const groups = new Map<string, { own: unknown; below: [string, unknown][] }>();
  for (const [path, value] of [...entries].sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0))) {
    const at = path.indexOf('.');
    const name = at < 0 ? path : path.slice(0, at);
    const group = groups.get(name) ?? { own: undefined, below: [] };
    groups.set(name, group);
    if (at < 0) group.own = value;
    else group.below.push([path.slice(at + 1), value]);
  }
  return groups;
}

/** A value of its entries. `own`: what lies under its name itself, such as a whole value of former days. */
function saidValue(split: Split, own: unknown, below: readonly [string, unknown][]): unknown {
  switch (split.as) {
    case 'record':
      return { ...(isPlain(own) ? own : {}), ...Object.fromEntries(below) };
    case 'object': {
      if (own !== undefined && !isPlain(own)) return own;
      return { ...split.usual, ...own, ...saidBy(below, split.parts) };
    }
    case 'kinds': {
      const before = isPlain(own) ? own : {};
      const kind = isPlain(own) ? own[KIND] : own;
      const prefix = `${String(kind)}.`;
      const fields = below.flatMap(([path, value]): [string, unknown][] =>
        path.startsWith(prefix) ? [[path.slice(prefix.length), value]] : [],
      );
      const parts = split.kinds.get(String(kind)) ?? NO_PARTS;
      return { ...before, ...saidBy(fields, parts), [KIND]: kind };
    }
    case 'distinct': {
      const numbers = new Map<string, unknown>(
        Array.isArray(own) ? own.map((text, at) => [String(text), at]) : [],
      );
      for (const [text, number] of below) numbers.set(text, number);
      return [...numbers]
        .sort(([a, one], [b, other]) => Number(one) - Number(other) || (a < b ? -1 : 1))
        .map(([text]) => text)
        .slice(0, split.most);
    }
  }
}

const NO_PARTS: Parts = new Map();

/**
 * Sets one property, by changing only those of its entries that differ. `name` may be the path of a single entry; undefined
 * takes it out.
 */
export function setSaid(map: Y.Map<unknown>, parts: Parts, name: string, value: unknown): void {
  const split = parts.get(name);
  const below = split ? [...map.keys()].filter((path) => path.startsWith(`${name}.`)) : [];
  if (value === undefined) {
    for (const path of [name, ...below]) if (map.has(path)) map.delete(path);
    return;
  }
  const before = new Map([name, ...below].map((path) => [path, map.get(path)]));
  const after: Entries = new Map();
  if (split) lay(after, name, split, value, before);
  else after.set(name, value);
  const isOther = (path: string) => !after.has(path) && !isOfOtherKind(split, name, path, value);
  for (const path of split ? [name, ...below] : []) {
    if (map.has(path) && isOther(path)) map.delete(path);
  }
  for (const [path, each] of after) if (!isSame(map.get(path), each)) map.set(path, each);
}

/** Makes the entries of a map say what is wanted, by changing only those that differ. */
export function writeSaid(map: Y.Map<unknown>, parts: Parts, wanted: Said): void {
  const names = Object.keys(wanted).filter((name) => wanted[name] !== undefined);
  const kept = new Set(names);
  for (const path of [...map.keys()]) {
    const name = path.split('.', 1)[0]!;
    if (!kept.has(path) && !(kept.has(name) && parts.has(name))) map.delete(path);
  }
  for (const name of names) setSaid(map, parts, name, wanted[name]);
}

/** What is wanted as entries of a new part. */
export function entriesFor(parts: Parts, wanted: Said): Entries {
  const entries: Entries = new Map();
  for (const [name, value] of Object.entries(wanted)) {
    if (value === undefined) continue;
    const split = parts.get(name);
    if (split) lay(entries, name, split, value, NOTHING);
    else entries.set(name, value);
  }
  return entries;
}

const NOTHING: ReadonlyMap<string, unknown> = new Map();

/** Puts the entries of a value under a name. `before`: those that are there. */
function lay(
  entries: Entries,
  name: string,
  split: Split,
  value: unknown,
  before: ReadonlyMap<string, unknown>,
): void {
  const isList = split.as === 'distinct';
  // What is no value of its kind lies as it came: its schema says so when it is read.
  if (isList ? !Array.isArray(value) : !isPlain(value)) {
    entries.set(name, value);
    return;
  }
  if (isList) {
    const paths = [...new Set((value as unknown[]).map((text) => `${name}.${String(text)}`))];
    const numbers = numbered(paths.map((path) => before.get(path)));
    for (const [at, path] of paths.entries()) entries.set(path, numbers[at]);
    return;
  }
  const said = value as Said;
  if (split.as === 'record') {
    for (const [key, each] of Object.entries(said)) {
      if (each !== undefined) entries.set(`${name}.${key}`, each);
    }
    return;
  }
  const kind = split.as === 'kinds' ? String(said[KIND]) : null;
  const parts = split.as === 'kinds' ? (split.kinds.get(kind!) ?? NO_PARTS) : split.parts;
  if (kind !== null) entries.set(name, kind);
  for (const [property, each] of Object.entries(said)) {
    if (each === undefined || (kind !== null && property === KIND)) continue;
    const path = kind === null ? `${name}.${property}` : `${name}.${kind}.${property}`;
    const inner = parts.get(property);
    // As usual until somebody says otherwise: two who set the first of it do not take back what the other one set.
    const isUsual = split.as === 'object' && isSame(split.usual[property], each);
    if (isUsual && !hasBelow(before, path)) continue;
    if (inner) lay(entries, path, inner, each, before);
    else entries.set(path, each);
  }
}

const hasBelow = (entries: ReadonlyMap<string, unknown>, path: string): boolean =>
  [...entries.keys()].some((each) => each === path || each.startsWith(`${path}.`));

/** Properties of the kinds that a value is not of stay: whoever goes back to one finds them, whatever others did meanwhile. */
function isOfOtherKind(
  split: Split | undefined,
  name: string,
  path: string,
  value: unknown,
): boolean {
  if (split?.as !== 'kinds' || path === name) return false;
  return !isPlain(value) || !path.startsWith(`${name}.${String(value[KIND])}.`);
}

/** Rising numbers for what stands in this order: those that it has, where they rise. */
function numbered(known: readonly unknown[]): number[] {
  const numbers: number[] = [];
  for (const [at, before] of known.entries()) {
    const last = numbers.at(-1) ?? -1;
    if (typeof before === 'number' && before > last) numbers.push(before);
    else {
      const next = known.slice(at + 1).find((each) => typeof each === 'number' && each > last);
      numbers.push(typeof next === 'number' ? (last + next) / 2 : Math.floor(last) + 1);
    }
  }
  return numbers;
}
