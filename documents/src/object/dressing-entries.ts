import type { BandKey, Override } from '@tether/core';
import type { Dressing } from './dressing.ts';

/**
 * A dressing as single entries, so that what two people set of one object at the same time is kept from both of them: each
 * property, and of an override each property of its look, stands for itself. Names are paths of JSON texts.
 */
export type DressingEntries = Map<string, unknown>;

/** Properties that are groups of properties which can be set one by one. */
const GROUPS = ['table', 'value', 'chart'] as const;
const OVERRIDE = 'override';

/** The entries of a dressing. Equal dressings have equal entries. */
export function entriesOf(dressing: Dressing): DressingEntries {
  const entries: DressingEntries = new Map();
  for (const [name, value] of Object.entries(dressing)) {
    if (value === undefined) continue;
    if (name === 'overrides') {
      for (const { row, column, look } of dressing.overrides ?? []) {
        for (const [property, set] of Object.entries(look)) {
          if (set !== undefined)
            entries.set(pathOf(OVERRIDE, bandPath(row), bandPath(column), property), set);
        }
      }
    } else if (isGroup(name)) {
      // A group that is there and says nothing is another dressing than none.
      entries.set(pathOf(name), true);
      for (const [property, set] of Object.entries(value)) {
        if (set !== undefined) entries.set(pathOf(name, property), set);
      }
    } else entries.set(pathOf(name), value);
  }
  return entries;
}

/** The dressing that entries make up; what is no path is passed over. Its overrides are in the order of their paths. */
export function dressingFrom(
  entries: Iterable<readonly [string, unknown]>,
): Record<string, unknown> {
  const dressing: Record<string, unknown> = {};
  const overrides = new Map<string, Override>();
  const said = new Set<string>();
  for (const [path, value] of [...entries].sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0))) {
    const steps = stepsOf(path);
    const [name, property] = steps as [string, string?];
    if (name === OVERRIDE && steps.length === 4) {
      const part = JSON.stringify(steps.slice(1, 3));
      const override = overrides.get(part) ?? {
        row: bandFrom(steps[1]),
        column: bandFrom(steps[2]),
        look: {},
      };
      overrides.set(part, override);
      Object.assign(override.look, { [String(steps[3])]: value });
    } else if (isGroup(name)) {
      const group = { ...(dressing[name] as object | undefined) };
      // A group was kept as one once.
      const whole = typeof value === 'object' ? value : null;
      dressing[name] =
        property === undefined ? { ...whole, ...group } : { ...group, [property]: value };
      if (property === undefined) said.add(name);
    } else if (name !== undefined && property === undefined) dressing[name] = value;
  }
  // How a chart is made says nothing in parts: whoever set it back to the source's takes what others set of it meanwhile.
  if (!said.has('chart')) delete dressing.chart;
  if (overrides.size > 0) dressing.overrides = [...overrides.values()];
  return dressing;
}

const isGroup = (name: unknown): name is (typeof GROUPS)[number] =>
  (GROUPS as readonly unknown[]).includes(name);
const pathOf = (...steps: unknown[]) => JSON.stringify(steps);

function stepsOf(path: string): unknown[] {
  try {
    const steps: unknown = JSON.parse(path);
    return Array.isArray(steps) ? steps : [];
  } catch {
    return [];
  }
}

/** The same row or column has the same path, whoever names it. */
const bandPath = (band: BandKey | null) => band && [band.text, band.nth, band.before, band.after];

function bandFrom(path: unknown): BandKey | null {
  if (!Array.isArray(path)) return null;
  const [text, nth, before, after] = path as [string, number, string | null, string | null];
  return { text, nth, before, after };
}
