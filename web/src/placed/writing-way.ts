import type { EditRequest } from '@tether/contract';

/** How the person here writes numbers and days, by the language of the browser. */
export function writingWay(): EditRequest['writing'] {
  const language = navigator.language;
  const number = new Intl.NumberFormat(language).formatToParts(1.5);
  const day = new Intl.DateTimeFormat(language).formatToParts(new Date(2026, 10, 29));
  const order = day.map(({ type }) => type).filter((type) => type === 'day' || type === 'month');
  return {
    decimal: number.find(({ type }) => type === 'decimal')?.value === ',' ? ',' : '.',
    dates: order[0] === 'month' ? 'month first' : 'day first',
  };
}
