import {
  type Area,
  formatCell,
  type LineChange,
  movedArea,
  movedLine,
  parseCell,
  shiftFormula,
} from '@tether/core';
import { CannotFollow } from '../../moved-lines.ts';
import { resolved } from '../../package/entities.ts';
import { attributeIn, withAttribute } from '../../package/tags.ts';
import { escaped } from '../write/xml-text.ts';
import { areaIn, type Follower } from './follower.ts';

/**
 * A sheet part (ECMA-376 Part 1, 18.3.1.99) in which rows or columns were put in or taken out: cells, merged cells, checks,
 * conditional formats, links, filters, panes and page breaks stand where they belong then, and formulas follow. What is put in
 * looks like the row or column before it. Throws `CannotFollow`.
 */
export function moveSheet(xml: string, own: string, follower: Follower): string {
  const { head, data, tail } = partsOf(xml);
  const cells = withoutShared(data);
  const { change } = follower;
  keepArraysWhole(cells, change);
  return (
    moveFrame(head, own, follower) +
    moveCells(cells, own, follower) +
    moveFrame(tail, own, follower)
  );
}

/** A part of another sheet, whose formulas follow. */
export function followSheet(xml: string, own: string, follower: Follower): string {
  const { head, data, tail } = partsOf(xml);
  const name = follower.change.sheet.toLowerCase();
  const isMeant = (text: string) =>
    resolved(text).replaceAll("''", "'").toLowerCase().includes(name);
  const cells = isMeant(data)
    ? withoutShared(data).replace(FORMULA, (whole, tag: string, text: string, end: string) =>
        text === '' ? whole : `${tag}${follower.text(text, own)}${end}`,
      )
    : data;
  return head + cells + (isMeant(tail) ? followFrame(tail, own, follower) : tail);
}

/** A formula of a cell: its opening tag, what it says, and its closing tag. */
const FORMULA = /(<(?:[\w.-]+:)?f(?=[\s>])[^>]*?(?<!\/)>)([^<]*)(<\/(?:[\w.-]+:)?f\s*>)/g;
const CELL = /<((?:[\w.-]+:)?c)(?=[\s/>])([^>]*?)(?:\/>|>([\s\S]*?)<\/\1\s*>)/g;
const ROW = /<((?:[\w.-]+:)?row)(?=[\s/>])([^>]*?)(?:\/>|>([\s\S]*?)<\/\1\s*>)/g;

function partsOf(xml: string): { head: string; data: string; tail: string } {
  const start = /<(?:[\w.-]+:)?sheetData(?=[\s/>])[^>]*>/.exec(xml);
  if (!start) throw new CannotFollow('a sheet has no cells part');
  const from = start.index + start[0].length;
  const end = /<\/(?:[\w.-]+:)?sheetData\s*>/g;
  end.lastIndex = from;
  const to = start[0].endsWith('/>') ? from : (end.exec(xml)?.index ?? from);
  return { head: xml.slice(0, from), data: xml.slice(from, to), tail: xml.slice(to) };
}

/** Every formula said in full: those that share one would each follow in their own way. */
function withoutShared(data: string): string {
  if (!/\st\s*=\s*["']shared["']/.test(data)) return data;
  const masters = new Map<string, { shift: ReturnType<typeof shiftFormula>; at: string }>();
  return data.replace(CELL, (cell: string, _name: string, attributes: string, inner = '') => {
    const at = attributeIn(attributes, 'r');
    const shared = /<((?:[\w.-]+:)?f)(?=[\s/>])([^>]*?)(?:\/>|>([^<]*)<\/\1\s*>)/.exec(inner);
    if (!shared || at === null || attributeIn(shared[2]!, 't') !== 'shared') return cell;
    const [whole, name, said = '', text = ''] = shared;
    const number = attributeIn(said, 'si') ?? '';
    if (text !== '') masters.set(number, { shift: shiftFormula(resolved(text)), at });
    const master = masters.get(number);
    const [from, to] = [parseCell(master?.at ?? ''), parseCell(at)];
    if (!master || !from || !to) throw new CannotFollow('a formula that others share is missing');
    const own = escaped(master.shift(to.row - from.row, to.column - from.column));
    return cell.replace(whole, () => `<${name}>${own}</${name}>`);
  });
}

/** What one formula fills stays together. */
function keepArraysWhole(data: string, { axis, kind, at, count }: LineChange): void {
  for (const [, tag = ''] of data.matchAll(/<(?:[\w.-]+:)?f(\s[^>]*?)\/?>/g)) {
    const type = attributeIn(tag, 't');
    const area =
      type === 'array' || type === 'dataTable' ? areaIn(attributeIn(tag, 'ref') ?? '') : null;
    if (!area) continue;
    const [first, last] = axis === 'rows' ? [area.top, area.bottom] : [area.left, area.right];
    const end = at + count - 1;
    const isCut =
      kind === 'put in'
        ? first < at && at <= last
        : at <= last && end >= first && !(at <= first && end >= last);
    if (isCut) {
      const where = formatCell({ row: area.top, column: area.left });
      throw new CannotFollow(`one formula in ${where} fills cells on both sides`);
    }
  }
}

function moveCells(data: string, own: string, follower: Follower): string {
  const { change } = follower;
  const { axis, kind, at, count } = change;
  const made: string[] = [];
  let isPut = kind !== 'put in' || axis !== 'rows';
  let number = 0;
  let above: { name: string; attributes: string; cells: string } | null = null;
  const putRows = () => {
    isPut = true;
    for (let row = at; above && row < at + count; row++) made.push(emptyRow(above, row));
  };
  for (const [, name = '', said = '', inner = ''] of data.matchAll(ROW)) {
    number = Number(attributeIn(said, 'r') ?? number + 1);
    if (!isPut && number >= at) putRows();
    if (!isPut) above = number === at - 1 ? { name, attributes: said, cells: inner } : null;
    const row = axis === 'rows' ? movedLine(change, number) : number;
    if (row === null) {
      if (kind === 'put in') throw new CannotFollow('the last rows of the sheet are filled');
      continue;
    }
    const attributes = withAttribute(withAttribute(`${said} `, 'spans', null), 'r', String(row));
    const open = `<${name}${attributes.replace(/\s*>?$/, '').trimEnd()}`;
    const cells = moveRow(inner, row, own, follower);
    made.push(cells === '' ? `${open}/>` : `${open}>${cells}</${name}>`);
  }
  if (!isPut) putRows();
  return made.join('');
}

/** A row that looks like the one above it, and holds nothing. */
function emptyRow(
  { name, attributes, cells }: { name: string; attributes: string; cells: string },
  row: number,
): string {
  const look = [...cells.matchAll(CELL)].flatMap(([, cell = '', said = '']) => {
    const place = parseCell(attributeIn(said, 'r') ?? '');
    const style = attributeIn(said, 's');
    if (!place || style === null) return [];
    return [`<${cell} r="${formatCell({ row, column: place.column })}" s="${style}"/>`];
  });
  const kept = ['s', 'customFormat', 'ht', 'customHeight'].flatMap((each) => {
    const value = attributeIn(attributes, each);
    return value === null ? [] : [` ${each}="${value}"`];
  });
  if (look.length + kept.length === 0) return '';
  return `<${name} r="${row}"${kept.join('')}>${look.join('')}</${name}>`;
}

function moveRow(cells: string, row: number, own: string, follower: Follower): string {
  const { change } = follower;
  const { axis, kind, at, count } = change;
  const made: string[] = [];
  let column = 0;
  let beside: { name: string; style: string } | null = null;
  for (const [, name = '', said = '', inner = ''] of cells.matchAll(CELL)) {
    column = parseCell(attributeIn(said, 'r') ?? '')?.column ?? column + 1;
    const isPast = axis === 'columns' && kind === 'put in' && column >= at;
    if (isPast && beside) {
      for (let each = at; each < at + count; each++) {
        const ref = formatCell({ row, column: each });
        made.push(`<${beside.name} r="${ref}" s="${beside.style}"/>`);
      }
    }
    const style = attributeIn(said, 's');
    beside = !isPast && column === at - 1 && style !== null ? { name, style } : null;
    const now = axis === 'columns' ? movedLine(change, column) : column;
    if (now === null) {
      if (kind === 'put in') throw new CannotFollow('the last columns of the sheet are filled');
      continue;
    }
    const tag = withAttribute(`${said} `, 'r', formatCell({ row, column: now })).trimEnd();
    const held = moveFormula(inner, own, follower);
    made.push(held === '' ? `<${name}${tag}/>` : `<${name}${tag}>${held}</${name}>`);
  }
  return made.join('');
}

/** What a cell holds, its formula with all that it says of cells. */
function moveFormula(inner: string, own: string, follower: Follower): string {
  if (!/<(?:[\w.-]+:)?f(?=[\s/>])/.test(inner)) return inner;
  return inner
    .replace(/<(?:[\w.-]+:)?f(?=[\s/>])[^>]*>/, (tag) => {
      let said = tag;
      for (const name of ['ref', 'r1', 'r2']) {
        const value = attributeIn(said, name);
        if (value !== null) said = withAttribute(said, name, follower.reference(value) ?? '#REF!');
      }
      return said;
    })
    .replace(FORMULA, (_, tag: string, text: string, end: string) =>
      text === '' ? `${tag}${end}` : `${tag}${follower.text(text, own)}${end}`,
    );
}

/** Formulas outside of cells: of rules, checks and links. */
function followFrame(xml: string, own: string, follower: Follower): string {
  return xml
    .replace(
      /(<((?:[\w.-]+:)?(?:formula[12]?|f))(?:\s[^>]*)?(?<!\/)>)([^<]+)(<\/\2\s*>)/g,
      (_, tag: string, _name: string, text: string, end: string) =>
        `${tag}${follower.text(text, own)}${end}`,
    )
    .replace(/(\slocation=")([^"]*)(")/g, (_, start: string, text: string, end: string) => {
      return `${start}${follower.text(text, own)}${end}`;
    });
}

/** Elements with a reference of their own that go with it. */
const PLACED =
  /<((?:[\w.-]+:)?(?:mergeCell|hyperlink|cellWatch|inputCells|protectedRange|ignoredError))(?=\s)([^>]*?)(\/>|>[\s\S]*?<\/\1\s*>)/g;
/** Elements with several references and formulas that are written for their first cell. */
const RULES =
  /<((?:[\w.-]+:)?(?:conditionalFormatting|dataValidation))(?=\s)([^>]*?)(\/>|>[\s\S]*?<\/\1\s*>)/g;
/** Those of extensions say their references in an element (`xm:sqref`). */
const EXTENDED =
  /<((?:[\w.-]+:)?(?:conditionalFormatting|dataValidation|sparkline))(?=[\s>])((?:(?!sqref\s*=)[^>])*)>((?:(?!<\/\1\s*>)[\s\S])*?<((?:[\w.-]+:)?sqref)>([^<]*)<\/\4>[\s\S]*?)<\/\1\s*>/g;

function moveFrame(xml: string, own: string, follower: Follower): string {
  const { change } = follower;
  let made = xml.replace(
    EXTENDED,
    (_, name: string, said: string, inner: string, sqref: string, list: string) => {
      const left = follower.references(list);
      if (left === null) return '';
      const body = inner
        .replace(`<${sqref}>${list}</${sqref}>`, () => `<${sqref}>${left}</${sqref}>`)
        .replace(
          /(<((?:[\w.-]+:)?f)>)([^<]+)(<\/\2>)/g,
          (__, tag: string, ___: string, text: string, end: string) => {
            const area = areaIn(list.split(/\s+/)[0]!);
            const isRule = !name.endsWith('sparkline') && area !== null;
            return `${tag}${isRule ? follower.relativeText(text, own, area) : follower.text(text, own)}${end}`;
          },
        );
      return `<${name}${said}>${body}</${name}>`;
    },
  );
  made = made.replace(RULES, (whole, name: string, said: string, rest: string) => {
    const list = attributeIn(said, 'sqref');
    if (list === null) return whole;
    const left = follower.references(list);
    if (left === null) return '';
    const area = areaIn(list.split(/\s+/)[0]!);
    const body = rest.replace(
      /(<((?:[\w.-]+:)?formula[12]?)(?:\s[^>]*)?(?<!\/)>)([^<]+)(<\/\2\s*>)/g,
      (_, tag: string, __: string, text: string, end: string) =>
        `${tag}${area ? follower.relativeText(text, own, area) : follower.text(text, own)}${end}`,
    );
    return `<${name}${withAttribute(`${said} `, 'sqref', left).trimEnd()}${body}`;
  });
  made = made.replace(PLACED, (_, name: string, said: string, rest: string) => {
    let tag = `${said} `;
    for (const each of ['ref', 'r', 'sqref']) {
      const value = attributeIn(tag, each);
      if (value === null) continue;
      const left = follower.references(value);
      const isOne = name.endsWith('mergeCell') && left !== null && !left.includes(':');
      if (left === null || isOne) return '';
      tag = withAttribute(tag, each, left);
    }
    const location = attributeIn(tag, 'location');
    if (location !== null) tag = withAttribute(tag, 'location', follower.text(location, own));
    return `<${name}${tag.trimEnd()}${rest}`;
  });
  made = moveFilter(made, follower);
  made = moveViews(made, follower);
  made = moveBreaks(made, change);
  if (change.axis === 'columns') made = moveColumns(made, change);
  made = made.replace(
    /(<(?:[\w.-]+:)?dimension\s+ref=")([^"]*)(")/,
    (_, start: string, ref: string, end: string) =>
      `${start}${follower.reference(ref) ?? 'A1'}${end}`,
  );
  return counted(made);
}

/** Filters, and what is sorted by. */
export function moveFilter(xml: string, follower: Follower): string {
  const { change } = follower;
  return xml
    .replace(
      /<((?:[\w.-]+:)?autoFilter)(?=\s)([^>]*?)(\/>|>[\s\S]*?<\/\1\s*>)/g,
      (_, name: string, said: string, rest: string) => {
        const ref = attributeIn(said, 'ref') ?? '';
        const left = follower.reference(ref);
        const area = areaIn(ref);
        if (left === null || !area) return '';
        const now = movedArea(change, area)!;
        const body =
          change.axis === 'rows'
            ? rest
            : rest.replace(
                /<((?:[\w.-]+:)?filterColumn)(?=\s)([^>]*?)(\/>|>[\s\S]*?<\/\1\s*>)/g,
                (__, column: string, its: string, inner: string) => {
                  const at = movedLine(change, area.left + Number(attributeIn(its, 'colId') ?? 0));
                  if (at === null) return '';
                  const tag = withAttribute(`${its} `, 'colId', String(at - now.left)).trimEnd();
                  return `<${column}${tag}${inner}`;
                },
              );
        return `<${name}${withAttribute(`${said} `, 'ref', left).trimEnd()}${body}`;
      },
    )
    .replace(
      /<((?:[\w.-]+:)?sortState)(?=\s)([^>]*?)(\/>|>[\s\S]*?<\/\1\s*>)/g,
      (_, name: string, said: string, rest: string) => {
        const left = follower.reference(attributeIn(said, 'ref') ?? '');
        if (left === null) return '';
        const body = rest.replace(
          /<((?:[\w.-]+:)?sortCondition)(?=\s)([^>]*?)\/>/g,
          (__, condition: string, its: string) => {
            const ref = follower.reference(attributeIn(its, 'ref') ?? '');
            return ref === null
              ? ''
              : `<${condition}${withAttribute(`${its} `, 'ref', ref).trimEnd()}/>`;
          },
        );
        return `<${name}${withAttribute(`${said} `, 'ref', left).trimEnd()}${body}`;
      },
    );
}

/** What is seen first, what is selected, and how many lines stay in view. */
function moveViews(xml: string, follower: Follower): string {
  const { change } = follower;
  const cellOr = (ref: string) => follower.reference(ref) ?? 'A1';
  return xml.replace(/<(?:[\w.-]+:)?(?:sheetView|pane|selection)\s[^>]*>/g, (tag) => {
    let made = tag;
    for (const name of ['topLeftCell', 'activeCell']) {
      const value = attributeIn(made, name);
      if (value !== null) made = withAttribute(made, name, cellOr(value));
    }
    const list = attributeIn(made, 'sqref');
    if (list !== null) made = withAttribute(made, 'sqref', follower.references(list) ?? 'A1');
    if (!/^frozen/.test(attributeIn(made, 'state') ?? '')) return made;
    const name = change.axis === 'rows' ? 'ySplit' : 'xSplit';
    const split = Number(attributeIn(made, name) ?? 0);
    if (split < 1) return made;
    const area: Area = { top: 1, left: 1, bottom: split, right: split };
    const left = movedArea(change, area);
    const now = left ? (change.axis === 'rows' ? left.bottom : left.right) : 1;
    return withAttribute(made, name, String(now));
  });
}

/** Page breaks stand before a row or column (18.3.1.3: `id` counts from 0). */
function moveBreaks(xml: string, change: LineChange): string {
  const list = change.axis === 'rows' ? 'rowBreaks' : 'colBreaks';
  return xml.replace(
    new RegExp(`<((?:[\\w.-]+:)?${list})(?=[\\s>])([^>]*)>([\\s\\S]*?)</\\1\\s*>`, 'g'),
    (_, name: string, said: string, inner: string) => {
      const left = [...inner.matchAll(/<(?:[\w.-]+:)?brk\s[^>]*?\/>/g)].flatMap(([tag]) => {
        const at = movedLine(change, Number(attributeIn(tag, 'id') ?? 0) + 1);
        return at === null ? [] : [withAttribute(tag, 'id', String(at - 1))];
      });
      if (left.length === 0) return '';
      const manual = left.filter((tag) => /\sman=["'](?:1|true)["']/.test(tag)).length;
      let tag = withAttribute(`${said} `, 'count', String(left.length));
      if (attributeIn(tag, 'manualBreakCount') !== null)
        tag = withAttribute(`${tag} `, 'manualBreakCount', String(manual));
      return `<${name}${tag.trimEnd()}>${left.join('')}</${name}>`;
    },
  );
}

/** Widths of columns: one that is put in is as wide as the one before it. */
function moveColumns(xml: string, change: LineChange): string {
  return xml.replace(
    /<((?:[\w.-]+:)?cols)>([\s\S]*?)<\/\1\s*>/,
    (_, name: string, inner: string) => {
      const left = [...inner.matchAll(/<(?:[\w.-]+:)?col\s[^>]*?\/>/g)].flatMap(([tag]) => {
        const [min, max] = [Number(attributeIn(tag, 'min')), Number(attributeIn(tag, 'max'))];
        const area = { top: 1, bottom: 1, left: min, right: max };
        const moved = movedArea(change, area);
        if (!moved) return [];
        // Those that are put in just behind it are as wide.
        const isBefore = change.kind === 'put in' && max === change.at - 1;
        const to = isBefore ? max + change.count : moved.right;
        return [withAttribute(withAttribute(tag, 'min', String(moved.left)), 'max', String(to))];
      });
      return left.length === 0 ? '' : `<${name}>${left.join('')}</${name}>`;
    },
  );
}

/** Lists say how many they hold; those of which nothing is left go. */
function counted(xml: string): string {
  return xml.replace(
    /<((?:[\w.-]+:)?(mergeCells|dataValidations|hyperlinks|protectedRanges|ignoredErrors|cellWatches|conditionalFormattings|sparklines))(?=[\s>])([^>]*?)(?:\/>|>([\s\S]*?)<\/\1\s*>)/g,
    (_, name: string, list: string, said: string, inner = '') => {
      const one = list === 'cellWatches' ? 'cellWatch' : list.slice(0, -1);
      const many = [...inner.matchAll(new RegExp(`<(?:[\\w.-]+:)?${one}(?=[\\s/>])`, 'g'))].length;
      if (many === 0) return '';
      const tag =
        attributeIn(said, 'count') === null
          ? said
          : withAttribute(`${said} `, 'count', String(many));
      return `<${name}${tag.trimEnd()}>${inner}</${name}>`;
    },
  );
}
