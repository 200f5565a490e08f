import { useEffect, useState } from 'react';
import { PanelFold } from '../../../documents/PanelFold.tsx';
import { useSurface } from '../../../documents/surface.ts';
import type { ReportSurface } from '../../report-surface.ts';
import { type Counts, countIn } from '../reading/counting.ts';
import { goToHeading, headingsIn } from '../reading/headings.ts';

/** The headings of a report at its side; a press goes to one. */
export function OutlineFold({ surface }: { surface: ReportSurface }) {
  return (
    <PanelFold title="Outline">
      <Outline surface={surface} />
    </PanelFold>
  );
}

function Outline({ surface }: { surface: ReportSurface }) {
  const headings = useSurface(surface, () => headingsIn(surface.editor.state.doc));
  if (headings.length === 0) return <p className="text-muted">No headings yet.</p>;
  return (
    <ol className="flex flex-col gap-0.5">
      {headings.map(({ level, words }, index) => (
        <li key={`${index} ${words}`} style={{ paddingLeft: (level - 1) * 14 }}>
          <button
            type="button"
            className="w-full truncate text-left hover:underline"
            onClick={() => goToHeading(surface.editor, index)}
          >
            {words || 'A heading without words'}
          </button>
        </li>
      ))}
    </ol>
  );
}

/** How much is written in a report, and in what is marked. */
export function CountsFold({ surface }: { surface: ReportSurface }) {
  return (
    <PanelFold title="Counts">
      <CountsNow surface={surface} />
    </PanelFold>
  );
}

/** Counting a long text takes a while: it is done when nobody writes for a moment. */
const PAUSE_MS = 400;

function CountsNow({ surface }: { surface: ReportSurface }) {
  const [counts, setCounts] = useState<{ all: Counts; marked: Counts | null } | null>(null);
  useEffect(() => {
    let timer = 0;
    const count = () => {
      const { doc, selection } = surface.editor.state;
      const { language } = surface.settings();
      setCounts({
        all: countIn(doc, language),
        marked: selection.empty ? null : countIn(doc, language, selection),
      });
    };
    const later = () => {
      window.clearTimeout(timer);
      timer = window.setTimeout(count, PAUSE_MS);
    };
    count();
    const deaf = surface.subscribe(later);
    return () => {
      window.clearTimeout(timer);
      deaf();
    };
  }, [surface]);
  if (!counts) return null;
  const rows: [what: string, read: (of: Counts) => number][] = [
    ['Words', ({ words }) => words],
    ['Characters', ({ characters }) => characters],
    ['… without spaces', ({ withoutSpaces }) => withoutSpaces],
    ['Paragraphs', ({ paragraphs }) => paragraphs],
  ];
  const shown = (count: number) => count.toLocaleString('en-GB');
  return (
    <table className="w-full">
      <thead className="text-sm text-muted">
        <tr>
          <th scope="col" className="text-left font-normal">
            <span className="sr-only">What</span>
          </th>
          <th scope="col" className="text-right font-normal">
            in all
          </th>
          {counts.marked && (
            <th scope="col" className="text-right font-normal">
              marked
            </th>
          )}
        </tr>
      </thead>
      <tbody>
        {rows.map(([what, read]) => (
          <tr key={what}>
            <th scope="row" className="text-left font-normal">
              {what}
            </th>
            <td className="figures text-right">{shown(read(counts.all))}</td>
            {counts.marked && <td className="figures text-right">{shown(read(counts.marked))}</td>}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
