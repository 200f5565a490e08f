import { axisText, type ChartData } from '@tether/core';

/** The most points of a chart that are read out; more are said to be there. */
const MOST_READ = 500;

/** The figures that a chart draws as a table, for those who cannot see it. */
export function FiguresTable({ data, label }: { data: ChartData; label: string }) {
  const series = data.groups.flatMap((group) => group.series);
  const points = Math.max(0, ...series.map(({ values }) => values.length));
  const rows = Array.from({ length: Math.min(points, MOST_READ) }, (_, at) => at);
  const isFree = series.some(({ x }) => x !== undefined);
  return (
    <table className="sr-only">
      <caption>{`Figures of ${label}`}</caption>
      <thead>
        <tr>
          <th scope="col">{isFree ? 'Across' : 'Point'}</th>
          {series.map(({ name }, index) => (
            <th key={index} scope="col">
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((at) => (
          <tr key={at}>
            <th scope="row">
              {isFree ? (series.find(({ x }) => x)?.x?.[at] ?? '') : data.labels[at]}
            </th>
            {series.map(({ values, format }, index) => (
              <td key={index}>
                {typeof values[at] === 'number' ? axisText(values[at], format) : ''}
              </td>
            ))}
          </tr>
        ))}
        {points > MOST_READ && (
          <tr>
            <td colSpan={series.length + 1}>
              {(points - MOST_READ).toLocaleString('en')} more points are not read out.
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}
