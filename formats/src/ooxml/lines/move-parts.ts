import { type Area, formatArea, type LineChange, movedArea, movedLine } from '@tether/core';
import { CannotFollow } from '../../moved-lines.ts';
import { resolved } from '../../package/entities.ts';
import { attributeIn, withAttribute } from '../../package/tags.ts';
import { escaped } from '../write/xml-text.ts';
import { areaIn, type Follower } from './follower.ts';
import { moveFilter } from './move-sheet.ts';

/** A table part, and the headers that its new columns get. */
export interface MovedTable {
  xml: string;
  headers: { row: number; column: number; text: string }[];
  /** Columns of it that are no more, as formulas name them: `[Planted]`. */
  gone: string[];
}

/** A table (ECMA-376 Part 1, 18.5.1.2) on the sheet, with the columns that it has afterwards. Throws `CannotFollow`. */
export function moveTable(xml: string, own: string, follower: Follower): MovedTable {
  const { change } = follower;
  const root = /<((?:[\w.-]+:)?table)\s[^>]*>/.exec(xml);
  const area = areaIn(attributeIn(root?.[0] ?? '', 'ref') ?? '');
  if (!root || !area) throw new CannotFollow('a table does not say where it stands');
  const [tag] = root;
  const name = attributeIn(tag, 'displayName') ?? attributeIn(tag, 'name') ?? '';
  const moved = movedArea(change, area);
  if (!moved) throw new CannotFollow(`the table ${name} would go`);
  const heads = Number(attributeIn(tag, 'headerRowCount') ?? 1);
  const totals = Number(attributeIn(tag, 'totalsRowCount') ?? 0);
  if (change.axis === 'rows' && change.kind === 'take out') {
    const end = change.at + change.count - 1;
    if (heads > 0 && change.at <= area.top && end >= area.top) {
      throw new CannotFollow(`the header of the table ${name} would go`);
    }
    if (totals > 0 && change.at <= area.bottom && end >= area.bottom) {
      throw new CannotFollow(`the totals row of the table ${name} would go`);
    }
    if (moved.bottom - moved.top + 1 - heads - totals < 1) {
      throw new CannotFollow(`the table ${name} would have no rows`);
    }
  }
  let made = moveFilter(xml, follower)
    .replace(tag, () => withAttribute(tag, 'ref', formatArea(moved)))
    .replace(
      TABLE_FORMULA,
      (_, open: string, __: string, text: string, end: string) =>
        `${open}${follower.text(text, own)}${end}`,
    );
  const headers: MovedTable['headers'] = [];
  const gone: string[] = [];
  if (change.axis === 'columns') {
    made = made.replace(
      /<((?:[\w.-]+:)?tableColumns)(?=[\s>])[^>]*>([\s\S]*?)<\/\1\s*>/,
      (_, list: string, inner: string) => {
        const columns = [
          ...inner.matchAll(/<((?:[\w.-]+:)?tableColumn)(?=\s)[^>]*?(?:\/>|>[\s\S]*?<\/\1\s*>)/g),
        ].map(([whole]) => whole);
        const word = /<([\w.:-]+)/.exec(columns[0] ?? '<tableColumn')![1]!;
        const kept = columns.flatMap((column, at) => {
          const stays = movedLine(change, area.left + at) !== null;
          const said = resolved(attributeIn(column, 'name') ?? '');
          if (!stays) gone.push(`[${said}]`);
          return stays ? [column] : [];
        });
        const isInside =
          change.kind === 'put in' && area.left < change.at && change.at <= area.right;
        if (isInside) {
          const names = columns.map((each) => resolved(attributeIn(each, 'name') ?? ''));
          let id = Math.max(...columns.map((each) => Number(attributeIn(each, 'id') ?? 0)));
          const fresh = Array.from({ length: change.count }, (__, nth) => {
            const text = freeName(names);
            names.push(text);
            headers.push({ row: area.top, column: change.at + nth, text });
            id += 1;
            return `<${word} id="${id}" name="${escaped(text)}"/>`;
          });
          kept.splice(change.at - area.left, 0, ...fresh);
        }
        return `<${list} count="${kept.length}">${kept.join('')}</${list}>`;
      },
    );
  }
  return { xml: made, headers: heads > 0 ? headers : [], gone };
}

/** Formulas of a table on another sheet. */
export function followTable(xml: string, follower: Follower): string {
  return xml.replace(TABLE_FORMULA, (_, open: string, __: string, text: string, end: string) => {
    return `${open}${follower.text(text, '')}${end}`;
  });
}

const TABLE_FORMULA =
  /(<((?:[\w.-]+:)?(?:calculatedColumnFormula|totalsRowFormula))(?:\s[^>]*)?>)([^<]+)(<\/\2\s*>)/g;

function freeName(names: readonly string[]): string {
  const taken = new Set(names.map((each) => each.toLowerCase()));
  for (let nth = 1; ; nth++) if (!taken.has(`column${nth}`)) return `Column${nth}`;
}

/** Pictures and charts on the sheet (20.5.2): they move with their cells, as far as each says that it does. */
export function moveDrawing(xml: string, change: LineChange): string {
  const [word, size] = change.axis === 'rows' ? ['row', 'rowOff'] : ['col', 'colOff'];
  const inside = new RegExp(
    `(<((?:[\\w.-]+:)?${word})>)(\\d+)(</\\2>)(\\s*<((?:[\\w.-]+:)?${size})>)(-?\\d+)`,
  );
  return xml.replace(
    /<((?:[\w.-]+:)?(?:twoCellAnchor|oneCellAnchor))(?=[\s>])([^>]*)>[\s\S]*?<\/\1\s*>/g,
    (anchor: string, _name: string, said: string) => {
      const edit = attributeIn(said, 'editAs');
      if (edit === 'absolute') return anchor;
      let by: number | null = null;
      return anchor.replace(
        /<((?:[\w.-]+:)?(?:from|to))>[\s\S]*?<\/\1\s*>/g,
        (corner: string, name: string) =>
          corner.replace(
            inside,
            (
              _,
              open: string,
              __: string,
              at: string,
              close: string,
              offset: string,
              ___: string,
              rest: string,
            ) => {
              const isFrom = name.endsWith('from');
              const line = movedLine(change, Number(at) + 1);
              // One that keeps its size moves as its upper left corner does.
              const keepsSize = !isFrom && edit === 'oneCell' && by !== null;
              const now = keepsSize ? Number(at) + by! : line === null ? change.at - 1 : line - 1;
              if (isFrom) by = now - Number(at);
              return `${open}${now}${close}${offset}${line === null && !keepsSize ? 0 : rest}`;
            },
          ),
      );
    },
  );
}

/** Notes of the sheet: those of cells that go, go with them. */
export function moveNotes(xml: string, follower: Follower): string {
  return xml.replace(
    /<((?:[\w.-]+:)?(?:comment|threadedComment))(?=\s)([^>]*?)(\/>|>[\s\S]*?<\/\1\s*>)/g,
    (_, name: string, said: string, rest: string) => {
      const ref = follower.reference(attributeIn(said, 'ref') ?? '');
      return ref === null ? '' : `<${name}${withAttribute(said, 'ref', ref)}${rest}`;
    },
  );
}

/** The shapes of notes, which say their cell in elements of their own, counted from 0. */
export function moveNoteShapes(xml: string, change: LineChange): string {
  const isRows = change.axis === 'rows';
  const word = isRows ? 'Row' : 'Column';
  return xml.replace(/<v:shape(?=\s)[\s\S]*?<\/v:shape\s*>/g, (shape) => {
    const said = new RegExp(`<x:${word}>\\s*(\\d+)\\s*</x:${word}>`).exec(shape);
    if (!said) return shape;
    const at = Number(said[1]);
    const line = movedLine(change, at + 1);
    if (line === null) return '';
    const by = line - 1 - at;
    return shape
      .replace(said[0], () => `<x:${word}>${line - 1}</x:${word}>`)
      .replace(
        /(<x:Anchor>)([^<]*)(<\/x:Anchor>)/,
        (_, open: string, list: string, end: string) => {
          const corners = list.split(',').map(Number);
          for (const place of isRows ? [2, 6] : [0, 4]) corners[place]! += by;
          return `${open}${corners.join(', ')}${end}`;
        },
      );
  });
}

/** Charts: what they draw is said by formulas that name their sheet (21.2.2.65, `c:f`). */
export function followChart(xml: string, follower: Follower): string {
  return xml.replace(
    /(<((?:[\w.-]+:)?f)(?:\s[^>]*)?(?<!\/)>)([^<]+)(<\/\2\s*>)/g,
    (_, open: string, __: string, text: string, end: string) =>
      `${open}${follower.text(text, '')}${end}`,
  );
}

/** Defined names (18.2.5). */
export function followNames(xml: string, follower: Follower): string {
  return xml.replace(
    /(<((?:[\w.-]+:)?definedName)(?=\s)[^>]*(?<!\/)>)([^<]+)(<\/\2\s*>)/g,
    (_, open: string, __: string, text: string, end: string) =>
      `${open}${follower.text(text, '')}${end}`,
  );
}

/** Controls on a sheet that are tied to cells. */
export function followControl(xml: string, follower: Follower, own: string): string {
  return xml.replace(
    /(\s(?:fmlaLink|fmlaRange|fmlaTxbx|fmlaGroup)=")([^"]+)(")/g,
    (_, open: string, text: string, end: string) => {
      return `${open}${follower.text(text, own)}${end}`;
    },
  );
}

/** Where the figures of a summary come from (18.10.1.95, `worksheetSource`). */
export function followPivotSource(xml: string, follower: Follower): string {
  return xml.replace(/<(?:[\w.-]+:)?worksheetSource\s[^>]*>/g, (tag) => {
    const [sheet, ref] = [attributeIn(tag, 'sheet'), attributeIn(tag, 'ref')];
    if (
      ref === null ||
      resolved(sheet ?? '').toLowerCase() !== follower.change.sheet.toLowerCase()
    ) {
      return tag;
    }
    const left = follower.reference(ref);
    if (left === null) throw new CannotFollow('all figures of a summary would go');
    return withAttribute(tag, 'ref', left);
  });
}

/** Where a summary stands on the sheet (18.10.1.49, `location`): it stays whole. */
export function movePivot(xml: string, follower: Follower): string {
  return xml.replace(/<(?:[\w.-]+:)?location\s[^>]*>/, (tag) => {
    const ref = attributeIn(tag, 'ref') ?? '';
    const area = areaIn(ref);
    const moved = area && movedArea(follower.change, area);
    if (area && (!moved || sizeOf(moved) !== sizeOf(area))) {
      throw new CannotFollow('a summary stands across them');
    }
    return withAttribute(tag, 'ref', follower.reference(ref) ?? ref);
  });
}

const sizeOf = ({ top, left, bottom, right }: Area) => `${bottom - top} ${right - left}`;
