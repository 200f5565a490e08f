export { openSource, type ReadingOptions, SOURCE_ENDINGS } from './open-source.ts';
export type { OpenSource } from './source.ts';
export { takeChart } from './taking/take-chart.ts';
export { takeReach, takeReaches } from './taking/take-reach.ts';
