export * from './address.ts';
export * from './chart.ts';
export * from './conditional.ts';
export * from './copied.ts';
export * from './cord.ts';
export * from './date.ts';
export * from './delimited.ts';
export * from './facsimile.ts';
export * from './fault.ts';
export * from './fitting.ts';
export * from './fold.ts';
export * from './fonts/measure.ts';
export * from './forecast/extend.ts';
export * from './forecast/forecast.ts';
export {
  evaluate,
  type Formula,
  movedReference,
  parseFormula,
  type Scope,
} from './formula/evaluate.ts';
export { shiftFormula } from './formula/shift.ts';
export { type CellValues, FormulaError, type Scalar } from './formula/value.ts';
export * from './harm.ts';
export * from './header.ts';
export * from './landmarks.ts';
export * from './layout.ts';
export * from './look.ts';
export * from './lookup.ts';
export * from './madechart.ts';
export * from './merge.ts';
export * from './merged.ts';
export * from './mode.ts';
export * from './numberformat.ts';
export * from './occupancy.ts';
export * from './overrides.ts';
export * from './pages.ts';
export * from './part.ts';
export * from './reach.ts';
export * from './sheet.ts';
export * from './sourcechart.ts';
export * from './standing.ts';
export * from './tableface.ts';
export * from './tablestyle.ts';
export * from './taken.ts';
export * from './takenchart.ts';
export * from './thin.ts';
export * from './timetable.ts';
export * from './totals.ts';
