import { basename } from 'node:path';
import { parseArgs } from 'node:util';
import {
  type Cell,
  DELIMITERS,
  type DelimitedReading,
  type Dress,
  detectBlocks,
  ENCODINGS,
  fail,
  formatArea,
  formatCell,
  formatReference,
  occupiedArea,
  ok,
  type PickedHeader,
  parseReference,
  type Reach,
  type Result,
  type SourceChart,
  type Taken,
} from '@tether/core';
import { type OpenSource, openSource, takeChart, takeReach } from '@tether/formats';
import { calcFormulas } from './calc-formulas.ts';
import { findFile } from './find-file.ts';
import { matchArea } from './match-area.ts';
import { setCells } from './set-cells.ts';

const HELP = `Reads and writes sources from a terminal; prints JSON.

  tether list FILE                          sheets, sizes, names, tables, blocks, charts
  tether chart FILE --chart ID              what a chart draws now, by its id from the list
  tether read FILE --reach 'Counts!A3:F14'  a block
  tether read FILE --grow 'Counts!A3:F3'    a growing block from its header row (one cell: as far as the header goes)
  tether read FILE --named NAME             a defined name or table object
  tether read FILE --sheet NAME             a whole sheet, trimmed
  tether read FILE --columns 'Counts!Plot,Planted'   columns by their headers; one with a comma in double quotes,
                                            the second of two alike as Planted#2

  tether set FILE 'Counts!D7=41' …          writes cells: those alone, the rest of the file byte for byte.
                                            TRUE and FALSE are truths, nothing behind the sign empties the cell, and a
                                            ' before it makes a text of anything
     --out FILE    into another file, and this one stays   --dry-run   only says what would be written
     --over-formulas   also over cells with formulas, which are gone then

  tether calc FILE [--sheet NAME]           what every formula comes to here, against what the file says

  tether match OLD NEW --reach 'Counts!A3:F14'   where an area of a file stands in another state of it, and why
  tether find FILE --in FOLDER              files of a folder that may be a file that moved, the likeliest first

  --dress      also the look of each cell, its parts and links
  --hidden-in  hidden rows and columns too

  Of delimited text, where it is not as found by looking:
  --delimiter , ; tab |   --quote " ' none   --decimal . ,   --encoding NAME
  --dates day-first month-first as-text`;

/** What the command prints and its exit code. */
export interface Outcome {
  code: 0 | 1;
  text: string;
}

/** Runs `tether` with these words. */
export async function runCommand(words: string[]): Promise<Outcome> {
  const parsed = readWords(words);
  if (!parsed.ok) return failed(parsed);
  const { action, file, values } = parsed.value;
  if (action === 'help') return { code: 0, text: HELP };
  const delimited = readingFrom(values);
  if (!delimited.ok) return failed(delimited);
  const source = await openSource(file, basename(file), { delimited: delimited.value });
  if (!source.ok) return failed(source);
  try {
    if (action === 'set') {
      const done = await setCells(source.value, file, parsed.value.rest, {
        out: values.out,
        isDry: values['dry-run'] === true,
        isOverFormulas: values['over-formulas'] === true,
      });
      return done.ok ? printed(done.value) : failed(done);
    }
    if (action === 'find') {
      if (values.in === undefined) {
        return failed(fail('command-malformed', { detail: 'say in which folder: --in FOLDER' }));
      }
      const found = await findFile(file, values.in);
      return found.ok ? printed(found.value) : failed(found);
    }
    if (action === 'match') {
      const [other] = parsed.value.rest;
      if (other === undefined || values.reach === undefined) {
        const detail = 'write tether match OLD NEW --reach AREA';
        return failed(fail('command-malformed', { detail }));
      }
      const now = await openSource(other, basename(other), { delimited: delimited.value });
      if (!now.ok) return failed(now);
      try {
        const matched = await matchArea(source.value, now.value, values.reach);
        return matched.ok ? printed(matched.value) : failed(matched);
      } finally {
        await now.value.close();
      }
    }
    if (action === 'calc') {
      const computed = await calcFormulas(source.value, values.sheet);
      return computed.ok ? printed(computed.value) : failed(computed);
    }
    if (action === 'list') {
      const listed = await list(source.value);
      return listed.ok ? printed(listed.value) : failed(listed);
    }
    if (action === 'chart') {
      const drawn = await takeChart(source.value, values.chart ?? '');
      return drawn.ok ? printed(drawn.value) : failed(drawn);
    }
    const reach = await reachFrom(source.value, values);
    if (!reach.ok) return failed(reach);
    const taken = await takeReach(source.value, reach.value, { look: true });
    return taken.ok ? printed(describeTaken(taken.value, values.dress === true)) : failed(taken);
  } finally {
    await source.value.close();
  }
}

function printed(value: unknown): Outcome {
  return { code: 0, text: JSON.stringify(value, null, 1) };
}

function failed({
  fault: error,
}: {
  fault: { code: string; message: string; hint: string };
}): Outcome {
  return { code: 1, text: JSON.stringify({ error }, null, 1) };
}

function readWords(words: string[]) {
  try {
    const { values, positionals } = parseArgs({
      args: words,
      allowPositionals: true,
      options: {
        json: { type: 'boolean' },
        reach: { type: 'string' },
        grow: { type: 'string' },
        named: { type: 'string' },
        sheet: { type: 'string' },
        columns: { type: 'string' },
        dress: { type: 'boolean' },
        out: { type: 'string' },
        'dry-run': { type: 'boolean' },
        'over-formulas': { type: 'boolean' },
        'hidden-in': { type: 'boolean' },
        chart: { type: 'string' },
        in: { type: 'string' },
        delimiter: { type: 'string' },
        quote: { type: 'string' },
        decimal: { type: 'string' },
        encoding: { type: 'string' },
        dates: { type: 'string' },
        help: { type: 'boolean' },
      },
    });
    const [action = 'help', file = '', ...rest] = positionals;
    if (values.help || action === 'help') {
      return ok({ action: 'help' as const, file, rest, values });
    }
    if (!isAction(action) || file === '') {
      return fail('command-malformed', { detail: 'write tether list FILE or tether read FILE' });
    }
    return ok({ action, file, rest, values });
  } catch (error) {
    return fail('command-malformed', { detail: (error as Error).message });
  }
}

const ACTIONS = ['list', 'read', 'chart', 'set', 'calc', 'match', 'find'] as const;

function isAction(word: string): word is (typeof ACTIONS)[number] {
  return (ACTIONS as readonly string[]).includes(word);
}

/** How delimited text is to be read, as the words say it. */
function readingFrom(values: Values): Result<Partial<DelimitedReading>> {
  const allowed: { [K in keyof DelimitedReading]: readonly DelimitedReading[K][] } = {
    delimiter: DELIMITERS,
    quote: ['"', "'", 'none'],
    decimal: ['.', ','],
    encoding: ENCODINGS,
    dates: ['by column', 'day first', 'month first', 'as text'],
  };
  const reading: Record<string, string> = {};
  for (const key of Object.keys(allowed) as (keyof DelimitedReading)[]) {
    const word = values[key];
    if (word === undefined) continue;
    const meant = word === 'tab' ? '\t' : key === 'dates' ? word.replaceAll('-', ' ') : word;
    if (!(allowed[key] as readonly string[]).includes(meant)) {
      return fail('command-malformed', { detail: `--${key} cannot be “${word}”` });
    }
    reading[key] = meant;
  }
  return ok(reading as Partial<DelimitedReading>);
}

type Values = Extract<ReturnType<typeof readWords>, { ok: true }>['value']['values'];

async function reachFrom(source: OpenSource, values: Values): Promise<Result<Reach>> {
  const hidden = values['hidden-in'] ? { hidden: 'in' as const } : {};
  const firstSheet = source.sheets[0]?.name ?? '';
  const given = [values.reach, values.grow, values.named, values.sheet, values.columns];
  if (given.filter((each) => each !== undefined).length !== 1) {
    return fail('command-malformed', {
      detail: 'give one of --reach, --grow, --named, --sheet, --columns',
    });
  }
  if (values.named !== undefined) {
    const { sheet, rest } = sheetInFront(values.named);
    return ok({ kind: 'name', name: rest, sheet, ...hidden });
  }
  if (values.sheet !== undefined)
    return ok({ kind: 'whole sheet', sheet: values.sheet, ...hidden });
  if (values.columns !== undefined) {
    const { sheet, rest } = sheetInFront(values.columns);
    const columns = readHeaders(rest);
    return ok({
      kind: 'picked columns',
      sheet: sheet ?? firstSheet,
      headerRow: 1,
      columns,
      ...hidden,
    });
  }
  const reference = parseReference((values.reach ?? values.grow)!);
  if (!reference.ok) return reference;
  const sheet = reference.value.sheet ?? firstSheet;
  const { area } = reference.value;
  if (values.reach !== undefined) return ok({ kind: 'block', sheet, area, ...hidden });
  let { right } = area;
  if (right === area.left) {
    // One cell: the header goes as far as its row is filled.
    const occupancy = await source.readOccupancy(sheet, area.top);
    if (!occupancy.ok) return occupancy;
    const runs = occupancy.value.rows.find(({ row }) => row === area.top)?.runs ?? [];
    const run = runs.findIndex((end, n) => n % 2 === 1 && runs[n - 1]! <= right && end >= right);
    if (run >= 0) right = runs[run]!;
  }
  return ok({
    kind: 'growing block',
    sheet,
    header: { row: area.top, left: area.left, right },
    ...hidden,
  });
}

/** A sheet's name in front of a mark, in quotes where it has others than letters (`'It''s, here'!…`), and what follows. */
function sheetInFront(text: string): { sheet: string | null; rest: string } {
  const quoted = /^'((?:[^']|'')*)'!/.exec(text);
  if (quoted)
    return { sheet: quoted[1]!.replaceAll("''", "'"), rest: text.slice(quoted[0].length) };
  const mark = text.indexOf('!');
  return mark < 0
    ? { sheet: null, rest: text }
    : { sheet: text.slice(0, mark), rest: text.slice(mark + 1) };
}

/** Headers with commas between: those in double quotes may hold some (RFC 4180, 2.5 to 2.7), `#2` picks the second alike. */
function readHeaders(text: string): PickedHeader[] {
  const parts = text.match(/(?:"(?:[^"]|"")*"|[^",])+/g) ?? [];
  return parts.map((part): PickedHeader => {
    const [, body = '', nth] = /^([\s\S]*?)(?:(?<!\s)#(\d+))?$/.exec(part.trim())!;
    const header = /^"[\s\S]*"$/.test(body) ? body.slice(1, -1).replaceAll('""', '"') : body;
    return nth === undefined || nth === '1' ? header : { text: header, nth: Number(nth) };
  });
}

async function list(source: OpenSource): Promise<Result<unknown>> {
  const tables = await source.readTables();
  if (!tables.ok) return tables;
  const sheets = [];
  for (const { name, state } of source.sheets) {
    const occupancy = await source.readOccupancy(name);
    if (!occupancy.ok) return occupancy;
    const used = occupiedArea(occupancy.value);
    sheets.push({
      name,
      state,
      used: used && formatArea(used),
      blocks: detectBlocks(occupancy.value).map(({ area, filled }) => ({
        area: formatArea(area),
        filled,
      })),
    });
  }
  const charts = await source.readCharts();
  if (!charts.ok) return charts;
  return ok({
    sheets,
    names: source.names,
    tables: tables.value.map((table) => ({ ...table, area: formatArea(table.area) })),
    charts: charts.value.map(({ id, name, sheet, place, groups }) => ({
      id,
      name,
      sheet,
      place: place && formatArea(place),
      kinds: groups.map(({ kind }) => kind),
      cells: cellsOfGroups(groups),
    })),
    ...(source.delimited ? { delimited: source.delimited } : {}),
  });
}

/** The ranges that the series of a chart take their values from. */
function cellsOfGroups(groups: SourceChart['groups']): string[] {
  return groups.flatMap(({ series }) =>
    series.flatMap(({ values }) =>
      values ? values.areas.map((area) => formatReference({ sheet: values.sheet, area })) : [],
    ),
  );
}

function describeTaken({ snapshot, warnings }: Taken, withDress: boolean) {
  return {
    sheet: snapshot.sheet,
    area: formatArea(snapshot.area),
    // Here headers are looked for from the top, so that none has moved.
    warnings: warnings
      .filter(({ code }) => code !== 'header moved')
      .map(({ code, message, area }) => ({
        code,
        message,
        ...(area ? { area: formatArea(area) } : {}),
      })),
    cells: snapshot.cells
      .filter(({ type }) => type !== 'blank')
      .map((cell) => describeCell(cell, withDress ? snapshot.dresses : null)),
  };
}

function describeCell(cell: Cell, dresses: readonly Dress[] | null) {
  const { value, text, type, formula, format, dress, runs, link, bar, icon } = cell;
  return {
    ref: formatCell(cell),
    value,
    text,
    type,
    ...(formula ? { formula } : {}),
    ...(format ? { format } : {}),
    ...(dresses && dress !== undefined ? { dress: dresses[dress], runs, link, bar, icon } : {}),
  };
}
