export { anchorsOf } from './anchor/anchor.ts';
export {
  type Candidate,
  type CandidateEvidence,
  type FilePrint,
  likeness,
  rankCandidates,
  type SheetSketch,
} from './anchor/candidates.ts';
export type { Anchor, Evidence, LinesFound } from './anchor/found.ts';
export { LineMap } from './anchor/line-map.ts';
export { nextPeriods } from './anchor/periods.ts';
export { printSheet, type SheetPrint } from './anchor/sheet-print.ts';
export { SKETCH_SIZE, type Sketch, sharedByBoth, sketchSheet } from './anchor/sketch.ts';
export { changeSlip, changesOnly, matchedPlaces } from './change/change-slip.ts';
export { faceOf } from './change/compare-cells.ts';
export * from './change/edits.ts';
export * from './change/entry.ts';
export * from './change/harm.ts';
export * from './change/merge.ts';
export * from './change/part.ts';
export { matchedColumns } from './change/sides.ts';
export * from './change/slip.ts';
export { showPerCent } from './change/slip-totals.ts';
export * from './change/slip-words.ts';
export * from './change/standing.ts';
export * from './chart/chart-data.ts';
export * from './chart/drawing.ts';
export * from './chart/forecast/extend.ts';
export * from './chart/forecast/forecast.ts';
export * from './chart/made-chart.ts';
export * from './chart/making.ts';
export * from './chart/taken-chart.ts';
export * from './face/copied.ts';
export * from './face/cord.ts';
export * from './face/facsimile.ts';
export * from './face/fitting.ts';
export * from './face/fold.ts';
export * from './face/pages.ts';
export * from './face/row-marks.ts';
export * from './face/said-in-place.ts';
export * from './face/table-face.ts';
export * from './fault.ts';
export * from './find/cell-index.ts';
export * from './find/pasted-text.ts';
export {
  evaluate,
  type Formula,
  movedReference,
  parseFormula,
  type Scope,
} from './formula/evaluate.ts';
export { followFormula } from './formula/follow.ts';
export { shiftFormula } from './formula/shift.ts';
export { whyNotTyped } from './formula/typed-formula.ts';
export { type CellValues, FormulaError, type Scalar } from './formula/value.ts';
export { BAR_AXIS, barEnd } from './look/bar.ts';
export * from './look/conditional.ts';
export * from './look/fonts/measure.ts';
export * from './look/format-examples.ts';
export * from './look/layout.ts';
export * from './look/look.ts';
export * from './look/overrides.ts';
export * from './look/table-style.ts';
export * from './page/arc.ts';
export * from './page/arrange.ts';
export * from './page/box.ts';
export * from './page/crowding.ts';
export * from './page/dimension.ts';
export * from './page/drawn-lines.ts';
export * from './page/frame.ts';
export * from './page/measure.ts';
export * from './page/paper.ts';
export * from './page/round.ts';
export * from './page/scale.ts';
export * from './page/snap.ts';
export * from './page/view.ts';
export * from './reach/as-found.ts';
export * from './reach/mooring.ts';
export { movedReach } from './reach/moved-reach.ts';
export * from './reach/reach.ts';
export { reachAt } from './reach/reach-at.ts';
export * from './reach/take-from.ts';
export * from './recalc/calc-book.ts';
export * from './recalc/calc-source.ts';
export { isSameResult } from './recalc/same-result.ts';
export * from './sheet/address.ts';
export * from './sheet/date.ts';
export * from './sheet/delimited.ts';
export * from './sheet/header.ts';
export * from './sheet/landmarks.ts';
export * from './sheet/line-change.ts';
export * from './sheet/merged.ts';
export * from './sheet/number-format.ts';
export * from './sheet/occupancy.ts';
export * from './sheet/sheet.ts';
export * from './sheet/source-chart.ts';
export * from './sheet/totals.ts';
export * from './time/mode.ts';
export * from './time/thin.ts';
export * from './time/timetable.ts';
