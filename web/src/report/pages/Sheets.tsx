import type { Tether } from '@tether/contract';
import { PIXELS_PER_MM, type SheetSize } from '@tether/core';
import type { ReportSettings, RunningLine } from '@tether/documents';
import { memo } from 'react';
import { valueText } from '../../placed/value-text.ts';
import { api, useTethersQuery } from '../../state/api.ts';
import { useAppSelector } from '../../state/store.ts';
import { fillLine } from './running-line.ts';

interface Props {
  documentId: string;
  name: string;
  settings: ReportSettings;
  sheet: SheetSize;
  count: number;
  /** Pixels between two sheets. */
  gap: number;
}

/** The sheets of paper behind the text, with what stands at the head and foot of each. */
export const Sheets = memo(function Sheets(props: Props) {
  const { documentId, name, settings, sheet, count, gap } = props;
  const { data: tethers = [] } = useTethersQuery(documentId);
  const values = useHeldValues(tethers, settings);
  const { margins } = settings.paper;
  const fill = (line: RunningLine, page: number) => ({
    left: fillLine(line.left, { page, pages: count, title: name, values }),
    middle: fillLine(line.middle, { page, pages: count, title: name, values }),
    right: fillLine(line.right, { page, pages: count, title: name, values }),
  });
  return (
    <div aria-hidden className="sheets">
      {Array.from({ length: count }, (_, index) => (
        <div
          key={index}
          className="sheet"
          style={{
            top: index * (sheet.height + gap),
            width: sheet.width,
            height: sheet.height,
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
        const { data } = api.endpoints.snapshot.select(base)(state);
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
