import type { Timetable } from './timetable.ts';

/** When an object takes what its source holds. */
export type Mode =
  /** As soon as the source is saved, also while nobody has the document open. */
  | { kind: 'automatic' }
  /** When somebody opens the document: after asking, or always. */
  | { kind: 'on opening'; how: 'ask' | 'always' }
  | { kind: 'timetable'; timetable: Timetable }
  /** Never by itself. */
  | { kind: 'manual' };

/** Kinds of mode, as every list names them. */
export const MODE_KINDS = ['automatic', 'on opening', 'timetable', 'manual'] as const;

export type ModeKind = (typeof MODE_KINDS)[number];

/** What each kind is called. */
export const MODE_WORDS: Record<ModeKind, string> = {
  automatic: 'automatic',
  'on opening': 'on opening',
  timetable: 'by timetable',
  manual: 'only by hand',
};

/** The mode of a document of which nobody said otherwise. */
export const USUAL_MODE: Mode = { kind: 'on opening', how: 'ask' };

/** Whose word holds for an object: its own, else that of its source, else that of its document. */
export type ModeFrom = 'object' | 'source' | 'document';

/** The mode that holds for an object, and who said it. */
export function modeOf(said: { object: Mode | null; source: Mode | null; document: Mode | null }): {
  mode: Mode;
  from: ModeFrom;
} {
  if (said.object) return { mode: said.object, from: 'object' };
  if (said.source) return { mode: said.source, from: 'source' };
  return { mode: said.document ?? USUAL_MODE, from: 'document' };
}

/** `weekdays at 07:30 (Europe/London)`: a mode in a few words. */
export function describeMode(mode: Mode): string {
  switch (mode.kind) {
    case 'automatic':
    case 'manual':
      return MODE_WORDS[mode.kind];
    case 'on opening':
      return mode.how === 'ask' ? 'on opening, after asking' : 'on opening, always';
    case 'timetable': {
      const { timetable } = mode;
      if ('every' in timetable) {
        return timetable.every === 1 ? 'every minute' : `every ${timetable.every} minutes`;
      }
      return `${timetable.days} at ${timetable.at} (${timetable.zone})`;
    }
  }
}
