import { mkdir, readdir, rm } from 'node:fs/promises';
import { basename, extname, join } from 'node:path';
import { type CellPlace, type LineChange, ok, type Result, type SheetRules } from '@tether/core';
import type { NameChange } from '@tether/formats';
import { Piscina } from 'piscina';
import { tell } from '../../tell.ts';
import { builtWorker, THREAD_ARGUMENTS } from '../../threads.ts';
import type { CellsLooked, FileWritten, LinesWritten, WritingTask } from './written.ts';

type Where = Pick<WritingTask, 'path' | 'shownPath' | 'reading'>;

/** Writes into sources and says beforehand what that would do, in a thread of its own: a large workbook takes a second. */
export interface SourceWriter {
  /** What would be written. Faults: those of `write-file`. */
  plan(where: Where, cells: WritingTask['cells']): Promise<Result<FileWritten>>;
  /** Writes it, if the file still has this hash; the file as it was is kept under the id of its source. */
  write(
    where: Where,
    cells: WritingTask['cells'],
    source: { id: string; hash: string },
  ): Promise<Result<FileWritten>>;
  /** What rows or columns would change that are put in or taken out. Faults: those of `planLines`. */
  planLines(where: Where, change: LineChange): Promise<Result<LinesWritten>>;
  /** Puts them in or takes them out, if the file still has this hash; says under which name it is kept as it was. */
  writeLines(
    where: Where,
    change: LineChange,
    file: { id: string; hash: string },
  ): Promise<Result<LinesWritten & { backup: string }>>;
  /** Puts names into a workbook or takes them out, if the file still has this hash. Faults: those of `writeNames`. */
  writeNames(
    where: Where,
    change: NameChange,
    file: { id: string; hash: string },
  ): Promise<Result<null>>;
  /** Puts back a file that was kept, in place of one with this hash. Faults: `not-taken-back` and those of writing. */
  putBack(
    where: Where,
    kept: string,
    file: { id: string; hash: string },
  ): Promise<Result<{ after: string; backup: string }>>;
  /** Some cells as they are now, and whether formulas that somebody typed can be written there. */
  look(
    where: Where,
    places: readonly CellPlace[],
    typed?: readonly string[],
  ): Promise<Result<CellsLooked>>;
  /** What a sheet says of entries. */
  rules(where: Where, sheet: string): Promise<Result<SheetRules>>;
  close(): Promise<void>;
}

/** So many earlier states of a source are kept; older ones make room. */
const MOST_BACKUPS = 20;

/** Starts the thread when there is something to write. Files as they were are kept in the folder `backups`. */
export function startWriter(backups: string): SourceWriter {
  const pool = new Piscina({
    filename: builtWorker('write-file'),
    execArgv: THREAD_ARGUMENTS,
    minThreads: 0,
    maxThreads: 1,
    idleTimeout: 60_000,
  });
  pool.on('error', (error) => tell('A writing thread', error));
  const backupOf = async ({ shownPath }: Where, id: string) => {
    const folder = join(backups, id);
    await mkdir(folder, { recursive: true });
    return { folder, name: backupName(shownPath, new Date()) };
  };
  return {
    plan: (where, cells) => pool.run({ ...where, cells, write: null } satisfies WritingTask),
    async write(where, cells, source) {
      const { folder, name } = await backupOf(where, source.id);
      const backup = join(folder, name);
      const task: WritingTask = { ...where, cells, write: { hash: source.hash, backup } };
      const done: Result<FileWritten> = await pool.run(task);
      if (done.ok) await thinBackups(folder);
      return done;
    },
    planLines: (where, change) =>
      pool.run({ ...where, change, write: null }, { name: 'writeLines' }),
    async writeLines(where, change, file) {
      const { folder, name } = await backupOf(where, file.id);
      const write = { hash: file.hash, backup: join(folder, name) };
      const done: Result<LinesWritten> = await pool.run(
        { ...where, change, write },
        { name: 'writeLines' },
      );
      if (!done.ok) return done;
      await thinBackups(folder);
      return ok({ ...done.value, backup: name });
    },
    async writeNames(where, change, file) {
      const { folder, name } = await backupOf(where, file.id);
      const write = { hash: file.hash, backup: join(folder, name) };
      const done: Result<null> = await pool.run(
        { ...where, change, write },
        { name: 'writeHiddenNames' },
      );
      if (done.ok) await thinBackups(folder);
      return done;
    },
    async putBack(where, kept, file) {
      const { folder, name } = await backupOf(where, file.id);
      const write = { hash: file.hash, backup: join(folder, name) };
      const done: Result<{ after: string }> = await pool.run(
        { ...where, kept: join(folder, basename(kept)), write },
        { name: 'putBack' },
      );
      if (!done.ok) return done;
      await thinBackups(folder);
      return ok({ after: done.value.after, backup: name });
    },
    look: (where, places, typed = []) =>
      pool.run({ ...where, places, typed }, { name: 'lookAtCells' }),
    rules: (where, sheet) => pool.run({ ...where, sheet }, { name: 'rulesOf' }),
    close: () => pool.destroy(),
  };
}

/** `2026-11-29T14-05-07-123 counts.xlsx`: in the order of time. */
function backupName(shownPath: string, at: Date): string {
  const ending = extname(shownPath);
  const moment = at.toISOString().replace(/[:.]/g, '-').replace('Z', '');
  return `${moment} ${basename(shownPath, ending)}${ending}`;
}

async function thinBackups(folder: string): Promise<void> {
  const names = (await readdir(folder)).sort();
  for (const name of names.slice(0, Math.max(0, names.length - MOST_BACKUPS))) {
    await rm(join(folder, name), { force: true });
  }
}
