import { type Dressing, FORMS, type Form, type TableLook } from '@tether/contract';
import {
  type ChartMaking,
  MADE_KINDS,
  makeChart,
  type Snapshot,
  suggestMaking,
} from '@tether/core';
import type { Editor } from '@tiptap/react';
import { useEditorState } from '@tiptap/react';
import { useSnapshotQuery } from '../app/api.ts';
import { dressObject, faceOf, turnObject } from '../report/objectCommands.ts';
import { SelectField } from '../ui/SelectField.tsx';
import { TextField } from '../ui/TextField.tsx';
import { Tick } from '../ui/Tick.tsx';

const FORM_WORDS: Record<Form, { name: string; sentence: string }> = {
  table: { name: 'Table', sentence: 'All of its cells, with their look.' },
  chart: { name: 'Chart', sentence: 'Drawn from its cells; it follows them.' },
  value: { name: 'Value', sentence: 'Its first cell, inside a sentence.' },
  tag: { name: 'Tag', sentence: 'Source and cells in small; it leads there.' },
};
const FORM_OPTIONS = FORMS.map((form) => ({ value: form, label: FORM_WORDS[form].name }));

interface Props {
  editor: Editor;
  tetherId: string;
  base: string;
  isAllowed: boolean;
}

/** In which form an object stands, and how that form is dressed. Every change is one step that undo takes back. */
export function FormSection({ editor, tetherId, base, isAllowed }: Props) {
  const face = useEditorState({ editor, selector: (now) => faceOf(now.editor, tetherId) });
  const { data: snapshot } = useSnapshotQuery(base);
  if (!face) return null;
  const { form, dressing } = face;
  return (
    <div className="flex flex-col gap-2">
      <SelectField
        label="Form"
        value={form}
        options={FORM_OPTIONS}
        disabled={!isAllowed}
        onChange={(next) => turnObject(editor, tetherId, next)}
      />
      <p className="text-muted">{FORM_WORDS[form].sentence}</p>
      {form === 'table' && (
        <LookFields
          look={dressing.table ?? {}}
          isAllowed={isAllowed}
          onChange={(table) => dressObject(editor, tetherId, { table })}
        />
      )}
      {form === 'chart' && snapshot && (
        <ChartFields
          snapshot={snapshot}
          making={dressing.chart ?? suggestMaking(snapshot)}
          isAllowed={isAllowed}
          onChange={(chart) => dressObject(editor, tetherId, { chart })}
        />
      )}
      {form === 'value' && (
        <ValueFields
          value={dressing.value ?? {}}
          isAllowed={isAllowed}
          onChange={(value) => dressObject(editor, tetherId, { value })}
        />
      )}
    </div>
  );
}

const ASPECTS: { key: keyof TableLook; label: string; source: string; document: string }[] = [
  { key: 'letters', label: 'Letters', source: 'of the source', document: 'of the report' },
  { key: 'fills', label: 'Fills, lines', source: 'of the source', document: 'of the report' },
  { key: 'widths', label: 'Widths', source: 'of the source', document: 'fit the page' },
];

/** What of a table's look follows its source, and what the report; all at once or each by itself. */
function LookFields(props: {
  look: TableLook;
  isAllowed: boolean;
  onChange: (look: TableLook) => void;
}) {
  const { look, isAllowed, onChange } = props;
  const following = new Set(ASPECTS.map(({ key }) => look[key] ?? 'source'));
  const whole = following.size > 1 ? 'mixed' : [...following][0]!;
  return (
    <>
      <SelectField
        label="Look"
        value={whole}
        options={[
          { value: 'source', label: 'follows the source' },
          { value: 'document', label: 'follows the report' },
          ...(whole === 'mixed' ? [{ value: 'mixed' as const, label: 'some of both' }] : []),
        ]}
        disabled={!isAllowed}
        onChange={(all) => {
          if (all === 'source') onChange({});
          if (all === 'document') {
            onChange({ letters: 'document', fills: 'document', widths: 'document' });
          }
        }}
      />
      {ASPECTS.map(({ key, label, ...words }) => (
        <SelectField
          key={key}
          label={label}
          value={look[key] ?? 'source'}
          options={[
            { value: 'source', label: words.source },
            { value: 'document', label: words.document },
          ]}
          disabled={!isAllowed}
          onChange={(follows) => onChange({ ...look, [key]: follows })}
        />
      ))}
    </>
  );
}

const KIND_WORDS: Record<ChartMaking['kind'], string> = {
  column: 'Columns',
  bar: 'Bars',
  line: 'Lines',
  area: 'Areas',
  pie: 'Pie',
  doughnut: 'Doughnut',
  scatter: 'Points',
};

function ChartFields(props: {
  snapshot: Snapshot;
  making: ChartMaking;
  isAllowed: boolean;
  onChange: (making: ChartMaking) => void;
}) {
  const { snapshot, making, isAllowed, onChange } = props;
  const set = (part: Partial<ChartMaking>) => onChange({ ...making, ...part });
  const { warnings } = makeChart(snapshot, making);
  const canStack = ['column', 'bar', 'area'].includes(making.kind);
  return (
    <>
      <SelectField
        label="Drawn as"
        value={making.kind}
        options={MADE_KINDS.map((kind) => ({ value: kind, label: KIND_WORDS[kind] }))}
        disabled={!isAllowed}
        onChange={(kind) => set({ kind })}
      />
      <SelectField
        label="A series is"
        value={making.seriesBy}
        options={[
          { value: 'columns', label: 'each column' },
          { value: 'rows', label: 'each row' },
        ]}
        disabled={!isAllowed}
        onChange={(seriesBy) => set({ seriesBy })}
      />
      {canStack && (
        <SelectField
          label="Series stand"
          value={making.stacking}
          options={[
            { value: 'none', label: 'beside each other' },
            { value: 'stacked', label: 'on each other' },
            { value: 'share', label: 'as shares of all' },
          ]}
          disabled={!isAllowed}
          onChange={(stacking) => set({ stacking })}
        />
      )}
      <SelectField
        label="Legend"
        value={making.legend ?? 'none'}
        options={[
          { value: 'bottom', label: 'below' },
          { value: 'top', label: 'above' },
          { value: 'right', label: 'at the right' },
          { value: 'left', label: 'at the left' },
          { value: 'none', label: 'none' },
        ]}
        disabled={!isAllowed}
        onChange={(legend) => set({ legend: legend === 'none' ? null : legend })}
      />
      <TextField
        label="Title"
        value={making.title}
        maxLength={200}
        disabled={!isAllowed}
        placeholder="none"
        onChange={(title) => set({ title })}
      />
      {isAllowed && (
        <Tick isOn={making.withTotals} onChange={(withTotals) => set({ withTotals })}>
          Draw rows of totals too
        </Tick>
      )}
      {warnings.map((warning) => (
        <p key={warning} className="text-muted">
          {warning}
        </p>
      ))}
    </>
  );
}

function ValueFields(props: {
  value: NonNullable<Dressing['value']>;
  isAllowed: boolean;
  onChange: (value: NonNullable<Dressing['value']>) => void;
}) {
  const { value, isAllowed, onChange } = props;
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
      <TextField
        label="Number format"
        isAddress
        value={value.format ?? ''}
        maxLength={120}
        disabled={!isAllowed}
        placeholder="as in the source"
        onChange={(format) => onChange({ ...value, format })}
      />
    </>
  );
}
