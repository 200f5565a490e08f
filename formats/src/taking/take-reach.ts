import {
  type Area,
  areasOfChart,
  type Cell,
  type CellAddress,
  type ChartReach,
  cellCount,
  describeReach,
  FEW_CELLS,
  fail,
  findHeaderRow,
  findSheet,
  formatArea,
  type GrowingReach,
  gridOf,
  type HeaderCell,
  intersection,
  isInsideSheet,
  isTotalOf,
  type LandmarkPlaces,
  LOOK_BELOW,
  landmarkFinder,
  landmarksAt,
  limitReach,
  MAX_COLUMNS,
  MAX_ROWS,
  mooredAt,
  type Occupancy,
  type Oddity,
  occupiedRow,
  ok,
  overlaps,
  type Reach,
  type ReachWarning,
  type ResolvedReach,
  type Result,
  requireSheet,
  resolveBlock,
  resolveColumns,
  resolveGrowing,
  resolveName,
  resolveWholeSheet,
  type Snapshot,
  snapshotCutter,
  type Taken,
  takeChartFrom,
  takeFrom,
  trimmedToSheet,
  union,
} from '@tether/core';
import type { OpenSource } from '../source.ts';

/** Rows around the header row of before in which picked columns look for their headers. */
const HEADER_SEARCH = 60;

/** Which cells of a sheet are filled, at least down to the row `until`. */
type Occupancies = (sheet: string, until?: number) => Promise<Result<Occupancy>>;

/** Reads each sheet's occupancy once for all reaches, as far down as they need it; further when that is asked for. */
function occupanciesFor(source: OpenSource, reaches: readonly Reach[]): Occupancies {
  const known = new Map<string, { until: number; read: Promise<Result<Occupancy>> }>();
  return (name, wanted = 0) => {
    const before = known.get(name);
    if (before && before.until >= wanted) return before.read;
    const rows = reaches
      .filter((reach) => reach.kind !== 'name' && reach.kind !== 'chart')
      .filter(({ sheet }) => findSheet(source.sheets, sheet)?.name === name)
      .map((reach) => (reach.kind === 'block' ? reach.area.bottom + LOOK_BELOW : MAX_ROWS));
    const until = Math.max(wanted, ...rows);
    const read = source.readOccupancy(name, until);
    known.set(name, { until, read });
    return read;
  };
}

/** Where a reach lies in the source now. Faults of the reach and of reading. */
async function resolve(
  source: OpenSource,
  reach: Exclude<Reach, ChartReach>,
  occupancies: Occupancies,
): Promise<Result<ResolvedReach>> {
  if (reach.kind === 'name') {
    const tables = await source.readTables();
    if (!tables.ok) return tables;
    const found = resolveName(reach, {
      sheets: source.sheets,
      names: source.names,
      tables: tables.value,
    });
    if (!found.ok || (found.value.area.bottom < MAX_ROWS && found.value.area.right < MAX_COLUMNS))
      return found;
    const occupancy = await occupancies(found.value.sheet, MAX_ROWS);
    if (!occupancy.ok) return occupancy;
    return ok({ ...found.value, area: trimmedToSheet(found.value.area, occupancy.value) });
  }
  if (reach.kind === 'block' && !isInsideSheet(reach.area)) {
    return fail('reference-outside-sheet', { text: describeReach(reach) });
  }
  // Where the workbook itself says where they are, it knows best.
  const moored = mooredAt(reach, source.names);
  const asked = moored ? { ...reach, ...moored } : reach;
  const sheet = requireSheet(source.sheets, asked.sheet);
  if (!sheet.ok) return sheet;
  const named = { ...asked, sheet: sheet.value.name };
  const occupancy = await occupancies(named.sheet);
  if (!occupancy.ok) return occupancy;
  switch (named.kind) {
    case 'block':
      return ok(resolveBlock(named, occupancy.value, source.names));
    case 'growing block': {
      const { row } = named.header;
      const found = await findGrowing(source, named, occupancy.value);
      if (!found.ok) return found;
      const moved = { ...named, header: { ...named.header, row: found.value } };
      return ok(resolveGrowing(moved, occupancy.value, row));
    }
    case 'whole sheet':
      return ok(resolveWholeSheet(named, occupancy.value));
    case 'picked columns': {
      const headers = await readHeaders(source, named, occupancy.value);
      return headers.ok ? resolveColumns(named, headers.value, occupancy.value) : headers;
    }
  }
}

/** The row of a growing block's header. Its own row alone is read where its words are there. */
async function findGrowing(
  source: OpenSource,
  reach: GrowingReach,
  occupancy: Occupancy,
): Promise<Result<number>> {
  const { row, left, right } = reach.header;
  // Without words there is nothing to look for: it is enough that the row is not empty.
  if (!reach.words) {
    const isThere = overlaps(occupiedRow(occupancy, row)?.runs, left, right);
    return isThere ? ok(row) : findHeaderRow(reach, []);
  }
  const own = await readTexts(source, reach.sheet, { top: row, bottom: row, left, right });
  if (!own.ok) return own;
  const here = findHeaderRow(reach, own.value);
  if (here.ok) return here;
  const around = {
    top: Math.max(1, row - HEADER_SEARCH),
    bottom: Math.min(MAX_ROWS, row + HEADER_SEARCH),
    left,
    right,
  };
  const found = await readTexts(source, reach.sheet, around);
  return found.ok ? findHeaderRow(reach, found.value) : found;
}

/** The texts of the rows in which the headers may stand. */
async function readHeaders(
  source: OpenSource,
  { sheet, headerRow }: { sheet: string; headerRow: number },
  occupancy: Occupancy,
): Promise<Result<HeaderCell[]>> {
  const right = occupancy.rows.reduce((most, { runs }) => Math.max(most, runs.at(-1)!), 1);
  const area = {
    top: Math.max(1, headerRow - HEADER_SEARCH),
    bottom: headerRow + HEADER_SEARCH,
    left: 1,
    right: Math.min(MAX_COLUMNS, right),
  };
  return readTexts(source, sheet, area);
}

async function readTexts(
  source: OpenSource,
  sheet: string,
  area: Area,
): Promise<Result<HeaderCell[]>> {
  const read = await source.readArea(sheet, area, { look: false });
  if (!read.ok) return read;
  return ok(
    read.value.cells
      .filter(({ type }) => type !== 'blank')
      .map(({ row, column, text }) => ({ row, column, text })),
  );
}

/** A chart with the cells that it is drawn from, each sheet read once. Faults: `chart-missing` and those of reading. */
async function takeChartReach(
  source: OpenSource,
  { chart: id }: ChartReach,
  options: { look?: boolean },
): Promise<Result<Taken>> {
  const charts = await source.readCharts();
  if (!charts.ok) return charts;
  const chart = charts.value.find((each) => each.id === id);
  const areas = chart ? areasOfChart(chart) : [];
  if (!chart || areas.length === 0) return fail('chart-missing', { chart: id });
  const parts: Snapshot[] = [];
  for (const { sheet: named, area } of areas) {
    const sheet = requireSheet(source.sheets, named);
    if (!sheet.ok) return sheet;
    const limited = limitReach({ sheet: sheet.value.name, area, columns: null, warnings: [] });
    if (!limited.ok) return limited;
    const part = await source.readArea(sheet.value.name, area, options);
    if (!part.ok) return part;
    parts.push(part.value);
  }
  return ok({ snapshot: takeChartFrom(chart, parts), warnings: [] });
}

/** What a reach takes from an open source: the one road for the server, the command line and the tests. */
export async function takeReach(
  source: OpenSource,
  reach: Reach,
  options: { look?: boolean } = {},
): Promise<Result<Taken>> {
  const [taken] = await takeReaches(source, [reach], options);
  return taken!;
}

/** How many times the cells of a reach may be read on the way to it from its neighbour. */
const MOST_BETWEEN = 4;
/** Passing by a cell on the way to an area costs about this share of reading one. */
const PASSING = 1 / 3;
const MOST_TOGETHER = 400_000;
/** So few cells are read together however little of them is wanted. */
const FEW_TOGETHER = 4_000;

/** What is wanted of a sheet: where a reach lies, and the words by which it is known. */
interface Wanted {
  at: number;
  resolved: ResolvedReach;
  landmarks: LandmarkPlaces | null;
  /** What is read for it: its area, and those of its landmarks that stand near. */
  extent: Area;
}

/** What each of several reaches takes, in their order. Reaches that lie near each other on a sheet are read as one. */
export async function takeReaches(
  source: OpenSource,
  reaches: readonly Reach[],
  options: { look?: boolean } = {},
): Promise<Result<Taken>[]> {
  const taken: Result<Taken>[] = [];
  const occupancies = occupanciesFor(source, reaches);
  const bySheet = new Map<string, Wanted[]>();
  for (const [at, reach] of reaches.entries()) {
    if (reach.kind === 'chart') {
      taken[at] = await takeChartReach(source, reach, options);
      continue;
    }
    const found = await resolve(source, reach, occupancies);
    const resolved = found.ok ? limitReach(found.value) : found;
    if (!resolved.ok) taken[at] = resolved;
    else {
      const { sheet } = resolved.value;
      const wanted = bySheet.get(sheet) ?? [];
      const extent = withRowBelow(resolved.value);
      wanted.push({ at, resolved: resolved.value, landmarks: null, extent });
      bySheet.set(sheet, wanted);
    }
  }
  for (const [sheet, wanted] of bySheet) {
    const far = await readFar(
      source,
      sheet,
      await findLandmarks(sheet, wanted, reaches, occupancies),
    );
    for (const { area, members } of groupsOf(wanted)) {
      const whole = await source.readArea(sheet, area, options);
      if (whole.ok) takeOut(source, taken, whole.value, members, reaches, far);
      // What is too much together can be read alone.
      for (const each of whole.ok ? [] : members) {
        const read = await source.readArea(sheet, each.extent, options);
        if (read.ok) takeOut(source, taken, read.value, [each], reaches, far);
        else taken[each.at] = read;
      }
    }
  }
  return taken;
}

/** What reaches take of cells that were read for them, with their landmarks; of these `far` has what was read apart. */
function takeOut(
  source: OpenSource,
  taken: Result<Taken>[],
  read: Snapshot,
  wanted: readonly Wanted[],
  reaches: readonly Reach[],
  far: CellFinder,
): void {
  // Cut in any case: what was read alone and together must come out the same to the letter.
  const cut = snapshotCutter(read);
  const near = cellFinder(
    [read],
    wanted.flatMap(({ landmarks }) => cellsOf(landmarks)),
  );
  for (const { at, resolved, landmarks } of wanted) {
    const what = takeFrom(cut(resolved.area), resolved, reaches[at]!);
    what.warnings = totalsTold(what, (row) => cut({ ...resolved.area, top: row, bottom: row }));
    what.warnings.push(...oddIn(source.odditiesOf(resolved.sheet), resolved.area));
    const words =
      landmarks && landmarksAt(landmarks, what.snapshot, (place) => near(place) ?? far(place));
    taken[at] = ok(words ? { ...what, snapshot: { ...what.snapshot, landmarks: words } } : what);
  }
}

/** The area of a reach with the row at which data go on just below it, which may be its totals. */
function withRowBelow({ area, warnings }: ResolvedReach): Area {
  const below = warnings.find(({ code }) => code === 'data below')?.area;
  return below && below.top <= area.bottom + 2 ? { ...area, bottom: below.top } : area;
}

/** The warnings of a reach, with data below it told as its totals where they are that. */
function totalsTold(
  { snapshot, warnings }: Taken,
  rowOf: (row: number) => Snapshot,
): ReachWarning[] {
  return warnings.flatMap((warning) => {
    const { code, area } = warning;
    if (code !== 'data below' || !area || area.top > snapshot.area.bottom + 2) return [warning];
    if (!isTotalOf(snapshot, gridOf(rowOf(area.top))[0] ?? [])) return [warning];
    const told: ReachWarning = {
      code: 'total below',
      message: `Row ${area.top} below it is its total and is not taken.`,
      area: { ...area, bottom: area.top },
    };
    return area.bottom > area.top ? [told, warning] : [told];
  });
}

/** What is odd among the cells of an area, each kind once. */
function oddIn(oddities: readonly Oddity[], area: Area): ReachWarning[] {
  const kinds = new Map<Oddity['code'], Oddity[]>();
  for (const odd of oddities) {
    if (intersection(odd.area, area)) kinds.set(odd.code, [...(kinds.get(odd.code) ?? []), odd]);
  }
  return [...kinds.values()].map(([first, ...more]) => ({
    code: 'odd',
    message: more.length === 0 ? first!.message : `${first!.message} So are ${more.length} more.`,
    area: first!.area,
  }));
}

/**
 * Reaches that are read as one, from top to bottom: each whose way from its neighbour costs less than passing by all that
 * lies above it once more.
 */
function groupsOf(wanted: readonly Wanted[]): { area: Area; members: Wanted[] }[] {
  const groups: { area: Area; members: Wanted[] }[] = [];
  for (const each of [...wanted].sort((a, b) => a.extent.top - b.extent.top)) {
    const group = groups.at(-1);
    if (group) {
      const area = union(group.area, each.extent);
      const cells = cellCount(area);
      const passed = each.extent.bottom * (area.right - area.left + 1) * PASSING;
      const worth = passed + cellCount(each.extent) * MOST_BETWEEN;
      const isNear = cells <= FEW_TOGETHER || cells - cellCount(group.area) <= worth;
      if (isNear && cells <= MOST_TOGETHER) {
        group.area = area;
        group.members.push(each);
        continue;
      }
    }
    groups.push({ area: each.extent, members: [each] });
  }
  return groups;
}

/**
 * Finds where the landmarks of small blocks and names stand; other reaches know their cells by headers. Those near their
 * reach are read with it; gives those that are not.
 */
async function findLandmarks(
  sheet: string,
  wanted: readonly Wanted[],
  reaches: readonly Reach[],
  occupancies: Occupancies,
): Promise<Area[]> {
  const small = wanted.filter(
    ({ at, resolved }) =>
      ['block', 'name'].includes(reaches[at]!.kind) && cellCount(resolved.area) < FEW_CELLS,
  );
  if (small.length === 0) return [];
  const until = small.reduce((most, { resolved }) => Math.max(most, resolved.area.bottom), 1);
  const occupancy = await occupancies(sheet, until);
  if (!occupancy.ok) return [];
  const find = landmarkFinder(occupancy.value);
  const far = new Map<string, Area>();
  for (const each of small) {
    each.landmarks = find(each.resolved.area);
    for (const cell of cellsOf(each.landmarks)) {
      const wider = union(each.extent, cell);
      if (cellCount(wider) <= FEW_TOGETHER) each.extent = wider;
      else far.set(formatArea(cell), cell);
    }
  }
  return [...far.values()];
}

function cellsOf(places: LandmarkPlaces | null): Area[] {
  return [...(places?.rows ?? []), ...(places?.columns ?? [])]
    .flat()
    .map(({ row, column }) => ({ top: row, left: column, bottom: row, right: column }));
}

type CellFinder = (place: CellAddress) => Cell | undefined;

/** Finds those of the cells that were read which are wanted. */
function cellFinder(read: readonly Snapshot[], wanted: readonly Area[]): CellFinder {
  const key = ({ row, column }: CellAddress) => row * (MAX_COLUMNS + 1) + column;
  const keys = new Set(wanted.map(({ top, left }) => key({ row: top, column: left })));
  const found = new Map<number, Cell>();
  for (const { cells } of read) {
    for (const cell of cells) if (keys.has(key(cell))) found.set(key(cell), cell);
  }
  return (place) => found.get(key(place));
}

/** Single cells far from what they are read for: the heads of long columns, most often, in one row. */
async function readFar(
  source: OpenSource,
  sheet: string,
  wanted: readonly Area[],
): Promise<CellFinder> {
  if (wanted.length === 0) return () => undefined;
  const strip = wanted.reduce(union);
  const read: Snapshot[] = [];
  for (const area of cellCount(strip) <= MOST_TOGETHER ? [strip] : wanted) {
    const words = await source.readArea(sheet, area, { look: false });
    if (words.ok) read.push(words.value);
  }
  return cellFinder(read, wanted);
}
