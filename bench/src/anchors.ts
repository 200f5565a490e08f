import {
  type Anchor,
  anchorsOf,
  type Cell,
  type FilePrint,
  formatArea,
  printSheet,
  rankCandidates,
  type SheetPrint,
  sketchSheet,
} from '@tether/core';
import { type Case, makeCase, OPERATIONS, randomFrom } from './mutated.ts';

/** How well areas and files are found again, and how fast: for `npm run bench`. */
const CASES = 2_000;
const share = (part: number, all: number) => `${((100 * part) / all).toFixed(2)} %`;
const ms = (time: number) => `${time < 10 ? time.toFixed(1) : Math.round(time)} ms`;
const say = (what: string, measured: string) => console.log(`${what}: ${measured}`);
const printed = (sheet: string, cells: Cell[]) => printSheet(sheet, cells)!;

function anchorsFor({ before, after }: Case): Anchor[] {
  return anchorsOf(
    printed(before.sheet, before.cells),
    before.area,
    after.map(({ sheet, cells }) => printed(sheet, cells)),
    before.names,
  );
}

function areas(): void {
  const none = () => ({ all: 0, first: 0, offered: 0, certain: 0, wrong: 0 });
  const counts = none();
  const inPlace = none();
  const byOperation = new Map(OPERATIONS.map((operation) => [operation, none()]));
  for (let number = 1; number <= CASES; number++) {
    const made = makeCase(number);
    const isRight = ({ sheet, area }: Anchor) =>
      sheet === made.truth.sheet && formatArea(area) === formatArea(made.truth.area);
    const anchors = anchorsFor(made);
    const [first] = anchors;
    const isFirst = first !== undefined && isRight(first);
    // Where nothing is taken as certain, somebody chooses among what is offered.
    const isOffered = isFirst || (first?.isCertain !== true && anchors.some(isRight));
    const operations = made.operations.map((operation) => byOperation.get(operation)!);
    const isCutOut = made.operations.includes('move the block');
    for (const each of [counts, ...(isCutOut ? [] : [inPlace]), ...new Set(operations)]) {
      each.all++;
      if (isFirst) each.first++;
      if (isOffered) each.offered++;
      if (first?.isCertain) each.certain++;
      if (first?.isCertain && !isRight(first)) each.wrong++;
    }
  }
  say(
    `${CASES} workbooks after 1 to 8 operations: the right area first; among those offered; taken as certain; of these wrong`,
    `${share(counts.first, CASES)}; ${share(counts.offered, CASES)}; ${share(counts.certain, CASES)}; ${counts.wrong}`,
  );
  say(
    `… of these where the block was not cut out: ${inPlace.all} workbooks; the right area first; offered`,
    `${share(inPlace.first, inPlace.all)}; ${share(inPlace.offered, inPlace.all)}`,
  );
  for (const [operation, { all, first, offered, certain, wrong }] of byOperation) {
    const precision = certain === 0 ? 'none' : share(certain - wrong, certain);
    say(
      `… with ${operation}: ${all} workbooks; first; offered; certain, of these right`,
      `${share(first, all)}; ${share(offered, all)}; ${share(certain, all)}, ${precision}`,
    );
  }
}

function alignment(): void {
  const random = randomFrom(5);
  const figure = (column: number) =>
    column < 20
      ? Math.floor(random() * 1e6)
      : column < 25
        ? Math.floor(random() * 5)
        : ['yes', 'no', 'maybe'][Math.floor(random() * 3)]!;
  const grid = Array.from({ length: 20_000 }, (_, row) =>
    Array.from({ length: 30 }, (_, column) =>
      row === 0 ? `Head ${column}` : column === 0 ? `row ${row}` : figure(column),
    ),
  );
  const print = (rows: (string | number)[][]): SheetPrint =>
    printed(
      'Data',
      rows.flatMap((values, row) =>
        values.map(
          (value, column): Cell => ({
            ...{ row: row + 1, column: column + 1, value, text: String(value) },
            type: typeof value === 'number' ? 'number' : 'text',
          }),
        ),
      ),
    );
  const before = print(grid);
  const put = [...grid];
  put.splice(
    100,
    0,
    ...Array.from({ length: 10 }, (_, at) => grid[0]!.map((_, c) => `new ${at} ${c}`)),
  );
  put.splice(9_000, 7);
  const edited = grid.map((row, at) =>
    at === 0 ? row : row.map((value) => (random() < 0.02 ? Math.floor(random() * 1e6) : value)),
  );
  const wider = grid.map((row, at) => [
    ...row.slice(0, 5),
    at === 0 ? 'New' : figure(1),
    ...row.slice(5),
  ]);
  const area = { top: 1, left: 1, bottom: 20_000, right: 30 };
  for (const [what, rows] of [
    ['rows put in and taken out', put],
    ['2 % of the cells changed', edited],
    ['a column put in', wider],
  ] as const) {
    const after = print(rows);
    const times = [0, 1, 2].map(() => {
      const from = performance.now();
      anchorsOf(before, area, [after]);
      return performance.now() - from;
    });
    say(`20,000 rows x 30 columns aligned, ${what}`, ms(times.sort((a, b) => a - b)[1]!));
  }
}

/** Files with sheets of the generated cases; each is looked for under another name, after its operations. */
function files(): void {
  const FILES = 5_000;
  const LOOKED_FOR = 300;
  const printOf = (
    number: number,
    sheets: { sheet: string; cells: Cell[] }[],
    path: string,
  ): FilePrint => ({
    ...{ path, hash: null, bytes: 1_000, names: [], changedAt: number },
    sheets: sheets.map(({ sheet, cells }) => ({
      name: sheet,
      sketch: sketchSheet(printed(sheet, cells)),
    })),
    headers: [],
  });
  const known: FilePrint[] = [];
  for (let number = 1; number <= FILES; number++) {
    const { after } = makeCase(number);
    known.push(
      printOf(number, after, `folder ${number % 40}/file ${(number * 7_919) % FILES}.xlsx`),
    );
  }
  let [right, time] = [0, 0];
  for (let nth = 0; nth < LOOKED_FOR; nth++) {
    const number = 1 + nth * 16;
    const { before, after } = makeCase(number);
    const own = { sheet: before.sheet, cells: before.cells };
    const wanted = printOf(number, [own, ...after.slice(1)], `counts/q${nth}.xlsx`);
    const from = performance.now();
    const [first] = rankCandidates(wanted, known);
    time += performance.now() - from;
    if (first?.path === known[number - 1]!.path) right++;
  }
  say(
    `a file moved, renamed and changed, looked for among ${FILES}: the right one first; time`,
    `${share(right, LOOKED_FOR)}; ${ms(time / LOOKED_FOR)}`,
  );
}

areas();
files();
alignment();
