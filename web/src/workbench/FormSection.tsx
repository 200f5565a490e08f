import {
  type ChartMaking,
  canCarryOn,
  hasAxes,
  type Sample,
  type Snapshot,
  sampleOf,
  suggestMaking,
  type TableLook,
} from '@tether/core';
import { type Dressing, FORMS, type Form, isInline } from '@tether/documents';
import { ChartColumn, Hash, Image, Table2, Tag } from 'lucide-react';
import { countOverrides, PartFields } from '../documents/object/part/PartFields.tsx';
import { PanelFold } from '../documents/PanelFold.tsx';
import { type Surface, useSurface } from '../documents/surface.ts';
import { useSnapshotQuery } from '../state/api.ts';
import { ChoiceField } from '../ui/fields/ChoiceField.tsx';
import { FormatField } from '../ui/fields/FormatField.tsx';
import { NumberField } from '../ui/fields/NumberField.tsx';
import { TextField } from '../ui/fields/TextField.tsx';
import { AxisFields } from './AxisFields.tsx';
import { CaptionField } from './CaptionField.tsx';
import { ChartFields } from './ChartFields.tsx';
import { ForecastFields } from './ForecastFields.tsx';
import { LookFields, MixedLookFields } from './LookFields.tsx';
import { SeriesFields } from './SeriesFields.tsx';

const FORM_WORDS: Record<Form, { name: string; sentence: string }> = {
  table: { name: 'Table', sentence: 'All of its cells, with their look.' },
  facsimile: { name: 'Facsimile', sentence: 'Exactly as in the source; scales as one piece.' },
  chart: { name: 'Chart', sentence: 'A chart of its cells, which follows them.' },
  value: { name: 'Value', sentence: 'Its first cell, inside a sentence.' },
  tag: { name: 'Tag', sentence: 'A small label with source and cells; a click opens them there.' },
};
const FORM_ICONS = { table: Table2, facsimile: Image, chart: ChartColumn, value: Hash, tag: Tag };
const FORM_OPTIONS = FORMS.map((form) => ({
  value: form,
  label: FORM_WORDS[form].name,
  icon: FORM_ICONS[form],
}));
const NONE: NonNullable<Dressing['overrides']> = [];
const AS_SOURCE: TableLook = {};

interface Props {
  surface: Surface;
  tetherId: string;
  base: string;
  isAllowed: boolean;
}

/** In which form an object stands, and how that form is dressed. Every change is one step that undo takes back. */
export function FormSection({ surface, tetherId, base, isAllowed }: Props) {
  const { face, look } = useFaceOf(surface, tetherId);
  const { data: snapshot } = useSnapshotQuery(base);
  if (!face) return null;
  const { form, dressing } = face;
  const making = dressing.chart ?? (snapshot && !snapshot.chart ? suggestMaking(snapshot) : null);
  const mayCarryOn = form === 'table' || (form === 'chart' && making && canCarryOn(making));
  return (
    <div className="flex flex-col gap-2">
      <ChoiceField
        label="Shown as"
        isTiled
        value={form}
        options={FORM_OPTIONS}
        disabled={!isAllowed}
        onChange={(next) => surface.turn(tetherId, next)}
      />
      <p className="text-muted">{FORM_WORDS[form].sentence}</p>
      {form === 'table' && snapshot && (
        <LookFields
          snapshot={snapshot}
          dressing={dressing}
          document={look}
          isAllowed={isAllowed}
          onChange={(change) => surface.dress(tetherId, change)}
        />
      )}
      {form === 'chart' && snapshot && (
        <ChartPart {...{ surface, tetherId, snapshot, dressing, isAllowed }} />
      )}
      {snapshot && mayCarryOn && (
        <ForecastFields
          snapshot={snapshot}
          making={form === 'chart' && making ? making : undefined}
          wish={dressing.forecast}
          isAllowed={isAllowed}
          onChange={(forecast) => surface.dress(tetherId, { forecast })}
        />
      )}
      <SizeFields {...{ surface, tetherId, form, dressing, isAllowed }} />
      {form === 'value' && (
        <ValueFields
          value={dressing.value ?? {}}
          sample={snapshot ? sampleOf(snapshot.cells) : null}
          isAllowed={isAllowed}
          onChange={(value) => surface.dress(tetherId, { value })}
        />
      )}
      {!isInline(form) && surface.hasCaptions && (
        <CaptionField surface={surface} tetherId={tetherId} form={form} isAllowed={isAllowed} />
      )}
    </div>
  );
}

interface PartProps {
  surface: Surface;
  tetherId: string;
  dressing: Dressing;
  isAllowed: boolean;
}

/** How a chart is drawn: as in its source, where that has one, or as is said here. */
function ChartPart(props: PartProps & { snapshot: Snapshot }) {
  const { surface, tetherId, snapshot, dressing, isAllowed } = props;
  return (
    <>
      {snapshot.chart && (
        <ChoiceField
          label="Drawn"
          value={dressing.chart ? 'here' : 'source'}
          options={[
            { value: 'source', label: 'as in the source' },
            { value: 'here', label: 'as set here' },
          ]}
          disabled={!isAllowed}
          onChange={(how) =>
            surface.dress(tetherId, {
              chart: how === 'here' ? suggestMaking(snapshot) : undefined,
            })
          }
        />
      )}
      {(dressing.chart || !snapshot.chart) && (
        <ChartFields
          snapshot={snapshot}
          making={dressing.chart ?? suggestMaking(snapshot)}
          isAllowed={isAllowed}
          onChange={(chart) => surface.dress(tetherId, { chart })}
        />
      )}
    </>
  );
}

/** How large a chart or facsimile is to be. */
function SizeFields(props: PartProps & { form: Form }) {
  const { surface, tetherId, form, dressing, isAllowed } = props;
  return (
    <>
      {(form === 'facsimile' || form === 'chart') && (
        <NumberField
          label="Width"
          value={dressing.width ?? null}
          unit="mm"
          min={10}
          max={1000}
          placeholder={form === 'chart' ? 'as the text' : 'as in the source'}
          disabled={!isAllowed}
          onChange={(width) => surface.dress(tetherId, { width: width ?? undefined })}
        />
      )}
      {form === 'chart' && (
        <NumberField
          label="Height"
          value={dressing.height ?? null}
          unit="mm"
          min={20}
          max={400}
          placeholder="79.4"
          disabled={!isAllowed}
          onChange={(height) => surface.dress(tetherId, { height: height ?? undefined })}
        />
      )}
    </>
  );
}

/** Further settings of a placed table, each folded until somebody wants it. */
export function TableFolds({ surface, tetherId, base, isAllowed }: Props) {
  const { face, look } = useFaceOf(surface, tetherId);
  const { data: snapshot } = useSnapshotQuery(base);
  if (face?.form !== 'table' || !snapshot) return null;
  const { overrides = NONE, table = AS_SOURCE } = face.dressing;
  return (
    <>
      <PanelFold title="Cells, rows and columns" note={countOverrides(overrides)}>
        <PartFields
          tetherId={tetherId}
          snapshot={snapshot}
          overrides={overrides}
          look={table}
          document={look}
          isAllowed={isAllowed}
          onChange={(next) => surface.dress(tetherId, { overrides: next })}
        />
      </PanelFold>
      <PanelFold title="More on its look">
        <MixedLookFields
          dressing={face.dressing}
          isAllowed={isAllowed}
          foldsTables={surface.foldsTables}
          onChange={(change) => surface.dress(tetherId, change)}
        />
      </PanelFold>
    </>
  );
}

/** Further settings of a chart that is made here, each folded until somebody wants it. */
export function ChartFolds({ surface, tetherId, base, isAllowed }: Props) {
  const { face } = useFaceOf(surface, tetherId);
  const { data: snapshot } = useSnapshotQuery(base);
  if (face?.form !== 'chart' || !snapshot) return null;
  const { chart } = face.dressing;
  if (!chart && snapshot.chart) return null;
  const fields = {
    snapshot,
    making: chart ?? suggestMaking(snapshot),
    isAllowed,
    onChange: (next: ChartMaking) => surface.dress(tetherId, { chart: next }),
  };
  return (
    <>
      <PanelFold title="Series and points">
        <SeriesFields {...fields} />
      </PanelFold>
      {hasAxes(fields.making) && (
        <PanelFold title="Axes">
          <AxisFields {...fields} />
        </PanelFold>
      )}
    </>
  );
}

/** How an object is there, and how those look that follow the document, as they are now. */
function useFaceOf(surface: Surface, tetherId: string) {
  const face = useSurface(surface, (now) => now.object(tetherId));
  const look = useSurface(surface, (now) => now.look());
  return { face, look };
}

function ValueFields(props: {
  value: NonNullable<Dressing['value']>;
  sample: Sample | null;
  isAllowed: boolean;
  onChange: (value: NonNullable<Dressing['value']>) => void;
}) {
  const { value, sample, isAllowed, onChange } = props;
  return (
    <>
      <div className="grid grid-cols-2 gap-2">
        <TextField
          label="Words before"
          value={value.before ?? ''}
          maxLength={60}
          disabled={!isAllowed}
          onChange={(before) => onChange({ ...value, before })}
        />
        <TextField
          label="Words after"
          value={value.after ?? ''}
          maxLength={60}
          disabled={!isAllowed}
          onChange={(after) => onChange({ ...value, after })}
        />
      </div>
      <FormatField
        label="Number format"
        value={value.format ?? ''}
        usual="as in the source"
        sample={sample}
        disabled={!isAllowed}
        onChange={(format) => onChange({ ...value, format })}
      />
    </>
  );
}
