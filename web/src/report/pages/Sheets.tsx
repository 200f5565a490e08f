import type { Tether } from '@tether/contract';
import { PIXELS_PER_MM } from '@tether/core';
import type { ReportSettings, RunningLine } from '@tether/documents';
import { memo } from 'react';
import { valueText } from '../../placed/value-text.ts';
import { tethersApi, useTethersQuery } from '../../state/api.ts';
import { useAppSelector } from '../../state/store.ts';
import { type Orientation, type Sheets as Sizes, widest } from './orientation.ts';
import { fillLine } from './running-line.ts';

interface Props {
  documentId: string;
  name: string;
  settings: ReportSettings;
  sheets: Sizes;
  /** How each sheet is turned. */
  turned: readonly Orientation[];
  /** Pixels between two sheets. */
  gap: number;
}

/** The sheets of paper behind the text, with what stands at the head and foot of each. */
export const Sheets = memo(function Sheets(props: Props) {
  const { documentId, name, settings, sheets, turned, gap } = props;
  const count = turned.length;
  const { data: tethers = [] } = useTethersQuery(documentId);
  const values = useHeldValues(tethers, settings);
  const { margins } = settings.paper;
  const fill = (line: RunningLine, page: number) => ({
    left: fillLine(line.left, { page, pages: count, title: name, values }),
    middle: fillLine(line.middle, { page, pages: count, title: name, values }),
    right: fillLine(line.right, { page, pages: count, title: name, values }),
  });
  const places = placesOf(sheets, turned, gap);
  return (
    <div aria-hidden className="sheets">
      {places.map(({ top, left, width, height }, index) => (
        <div
          key={index}
          className="sheet"
          style={{
            top,
            left,
            width,
            height,
            paddingLeft: margins.left * PIXELS_PER_MM,
            paddingRight: margins.right * PIXELS_PER_MM,
          }}
        >
          <Line line={fill(settings.header, index + 1)} at="top" margin={margins.top} />
          <Line line={fill(settings.footer, index + 1)} at="bottom" margin={margins.bottom} />
        </div>
      ))}
    </div>
  );
});

/** Where each sheet lies, in pixels, and how large all of them are together. In print they lie on paper as large as the largest. */
export function placesOf(
  sheets: Sizes,
  turned: readonly Orientation[],
  gap: number,
): { top: number; left: number; width: number; height: number }[] {
  const whole = widest(sheets, turned);
  const highest = Math.max(...turned.map((each) => sheets[each].height));
  let top = 0;
  return turned.map((each) => {
    const { width, height } = sheets[each];
    const place = { top, left: gap > 0 ? (whole - width) / 2 : 0, width, height };
    top += gap > 0 ? height + gap : highest;
    return place;
  });
}

/** In the middle of its margin. */
function Line(props: { line: RunningLine; at: 'top' | 'bottom'; margin: number }) {
  const { line, at, margin } = props;
  if (!line.left && !line.middle && !line.right) return null;
  return (
    <p className="running-line" style={{ [at]: (margin * PIXELS_PER_MM) / 2 - 8 }}>
      <span className="text-left">{line.left}</span>
      <span className="text-center">{line.middle}</span>
      <span className="text-right">{line.right}</span>
    </p>
  );
}

/** What the objects show that head and foot name, by tether. */
function useHeldValues(
  tethers: readonly Tether[],
  { header, footer }: ReportSettings,
): ReadonlyMap<string, string> {
  const all = [header, footer].flatMap((line) => [line.left, line.middle, line.right]).join(' ');
  const named = tethers.filter(({ id }) => all.includes(`{#${id}}`));
  const values = useAppSelector((state) =>
    named
      .map(({ id, base }) => {
        const { data } = tethersApi.endpoints.snapshot.select(base)(state);
        return `${id}\u0000${data ? valueText(data, {}) : '…'}`;
      })
      .join('\u0001'),
  );
  return new Map(
    values
      .split('\u0001')
      .filter(Boolean)
      .map((each) => each.split('\u0000') as [string, string]),
  );
}
