import {
  columnWidths,
  describeReach,
  formatArea,
  PIXELS_PER_MM,
  type Snapshot,
  sheetSize,
  USUAL_LOOK,
  USUAL_PAPER,
} from '@tether/core';
import type { Form } from '@tether/documents';
import { PlacedChart } from '../placed/chart/PlacedChart.tsx';
import { PlacedFace } from '../placed/PlacedFace.tsx';
import { valueText } from '../placed/value-text.ts';
import { counted } from '../ui/counted.ts';
import { FaultNote } from '../ui/FaultNote.tsx';
import { nextStep, type ReachDraft } from './reach-draft.ts';
import type { Taking } from './useTaking.ts';

const PREVIEW_WIDTH = 292;
/** The preview shows things as they stand on the usual paper. */
const USUAL_SHEET = sheetSize(USUAL_PAPER);
const TEXT_WIDTH = USUAL_SHEET.textWidth;
const ROOM = { width: TEXT_WIDTH, height: USUAL_SHEET.textHeight };
const NOTHING = {};

interface Props {
  taking: Taking;
  /** The form in which it is placed; null for an object that stands already, which keeps its own. */
  form: Form | null;
  draft: ReachDraft;
}

/** What comes of the cells taken, as it will stand in the document, and how much they are. */
export function Preview({ taking, form, draft }: Props) {
  const { taken, settled } = taking;
  return (
    <>
      <h3 className="mb-1 text-sm font-semibold text-muted">As it will stand in the document</h3>
      <div
        data-testid="preview"
        className="max-h-[210px] min-h-[80px] overflow-hidden border border-hairline bg-white p-2"
      >
        <Face taking={taking} form={form} draft={draft} />
      </div>
      {taken && settled && (
        <p className="mt-1 text-muted">
          <span className="font-mono text-[12px]">{formatArea(taken.area)}</span>:{' '}
          {counted(taken.area.bottom - taken.area.top + 1, 'row')},{' '}
          {counted(columnWidths(taken.snapshot).filter((width) => width > 0).length, 'column')}
          {(form === null || form === 'table' || form === 'facsimile') &&
            `; ${widthInWords(taken.snapshot)}`}
        </p>
      )}
    </>
  );
}

function Face({ taking: { taken, settled, tooLarge, takeFault }, form, draft }: Props) {
  if (settled === null || tooLarge) return <p className="text-muted">{nextStep(draft)}</p>;
  if (takeFault) return <FaultNote fault={takeFault} />;
  if (!taken) return <p className="text-muted">Reading …</p>;
  const { snapshot } = taken;
  if (form === 'chart') {
    return <PlacedChart snapshot={snapshot} making={undefined} label="Preview" height={190} />;
  }
  if (form === 'value') {
    return <p className="font-serif text-[15px]">… {valueText(snapshot, {})} …</p>;
  }
  if (form === 'tag') {
    return (
      <p className="text-[11px]">
        {describeReach(settled)} <span className="text-muted">leads to the source</span>
      </p>
    );
  }
  return (
    // Unlike a transformation it takes no more room than is seen.
    <div style={{ zoom: previewScale(snapshot) }}>
      <PlacedFace
        snapshot={snapshot}
        form={form ?? 'table'}
        dressing={NOTHING}
        look={USUAL_LOOK}
        room={ROOM}
        label="Preview"
        maxRows={60}
      />
    </div>
  );
}

function widthOf(snapshot: Snapshot): number {
  return columnWidths(snapshot).reduce((sum, width) => sum + width, 0);
}

/** As large as the room allows, never larger than it will stand on the page. */
function previewScale(snapshot: Snapshot): number {
  return Math.min(1, PREVIEW_WIDTH / Math.max(1, Math.min(widthOf(snapshot), TEXT_WIDTH * 1.5)));
}

/** How wide a table stands in any document: the room that there is for it differs by kind. */
function widthInWords(snapshot: Snapshot): string {
  return `${Math.round(widthOf(snapshot) / PIXELS_PER_MM)} mm wide`;
}
