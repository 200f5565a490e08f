import { Field, Label, Radio, RadioGroup } from '@headlessui/react';
import type { SourceContents } from '@tether/contract';
import { formatReference, REACH_WORDS, type Reach } from '@tether/core';
import { FORMS, type Form } from '@tether/documents';
import type { ReachDraft } from './reach-draft.ts';

interface DraftProps {
  draft: ReachDraft;
  onChange: (part: Partial<ReachDraft>) => void;
}

const FORM_NAMES: Record<Form, string> = {
  table: 'Table',
  facsimile: 'Facsimile',
  chart: 'Chart',
  value: 'Value',
  tag: 'Tag',
};

/** In which form the cells are placed; it can be changed later. */
export function FormChoice({ form, onChange }: { form: Form; onChange: (form: Form) => void }) {
  return (
    <RadioGroup value={form} onChange={onChange} aria-label="Form" className="flex gap-1">
      {FORMS.map((each) => (
        <Field key={each} className="flex-1">
          <Radio
            value={each}
            className="flex h-7 w-full cursor-pointer items-center justify-center rounded-box border border-hairline bg-white data-checked:border-rope data-checked:bg-rope/10 data-checked:font-semibold"
          >
            <Label className="cursor-pointer">{FORM_NAMES[each]}</Label>
          </Radio>
        </Field>
      ))}
    </RadioGroup>
  );
}

const KINDS = Object.keys(REACH_WORDS) as Reach['kind'][];

/** How what is taken follows the source. */
export function ReachKinds({ draft, onChange }: DraftProps) {
  return (
    <div>
      <RadioGroup
        value={draft.kind}
        onChange={(kind) => onChange({ kind })}
        aria-label="How it follows the source"
        className="grid grid-cols-2 gap-0.5"
      >
        {KINDS.map((kind) => (
          <Field key={kind}>
            <Radio
              value={kind}
              className="group flex w-full cursor-pointer items-center gap-1.5 rounded-box border border-transparent px-1.5 py-1 data-checked:border-rope data-checked:bg-rope/10"
            >
              <span className="size-3 shrink-0 rounded-full border border-muted group-data-checked:border-4 group-data-checked:border-deep" />
              <Label className="cursor-pointer font-semibold whitespace-nowrap">
                {REACH_WORDS[kind].name}
              </Label>
            </Radio>
          </Field>
        ))}
      </RadioGroup>
      <p className="px-1.5 pt-1 text-muted">{REACH_WORDS[draft.kind].sentence}</p>
    </div>
  );
}

/** The source's names and tables, to take one. */
export function Names(props: DraftProps & { contents: SourceContents }) {
  const { contents, draft, onChange } = props;
  const all = [
    ...contents.tables.map((table) => ({
      name: table.name,
      sheet: null,
      at: formatReference({ sheet: table.sheet, area: table.area }),
      where: { sheet: table.sheet, area: table.area },
    })),
    ...contents.names.map((name) => ({
      name: name.name,
      sheet: name.sheet,
      at: name.refersTo,
      where: name.area,
    })),
  ];
  if (all.length === 0)
    return <p className="text-muted">This source has no names and no tables.</p>;
  return (
    <ul
      aria-label="Names and tables"
      className="flex max-h-40 shrink-0 flex-col overflow-auto border border-hairline"
    >
      {all.map((each) => {
        const isChosen = draft.name?.name === each.name && draft.name.sheet === each.sheet;
        return (
          <li key={`${each.sheet}!${each.name}`}>
            <button
              type="button"
              aria-current={isChosen}
              disabled={each.where === null}
              className={`flex w-full flex-col px-2 py-1 text-left disabled:text-muted ${isChosen ? 'bg-rope/15' : 'enabled:hover:bg-mist'}`}
              onClick={() =>
                onChange({
                  name: { name: each.name, sheet: each.sheet },
                  ...(each.where ? { sheet: each.where.sheet, area: each.where.area } : {}),
                })
              }
            >
              <span className="font-semibold">
                {each.name}
                {each.sheet && <span className="font-normal text-muted"> of {each.sheet}</span>}
              </span>
              <span className="truncate font-mono text-[11px] text-muted">{each.at}</span>
              {each.where === null && (
                <span className="text-sm">a formula, which cannot be followed</span>
              )}
            </button>
          </li>
        );
      })}
    </ul>
  );
}

/** The source's charts, to take one with its cells. */
export function Charts(props: DraftProps & { contents: SourceContents }) {
  const { contents, draft, onChange } = props;
  if (contents.charts.length === 0) return <p className="text-muted">This source has no charts.</p>;
  return (
    <ul
      aria-label="Charts of the source"
      className="flex max-h-40 shrink-0 flex-col overflow-auto border border-hairline"
    >
      {contents.charts.map(({ id, name, sheet }) => {
        const isChosen = draft.chart?.id === id;
        return (
          <li key={id}>
            <button
              type="button"
              aria-current={isChosen}
              className={`flex w-full flex-col px-2 py-1 text-left ${isChosen ? 'bg-rope/15' : 'hover:bg-mist'}`}
              onClick={() => onChange({ chart: { id, sheet } })}
            >
              <span className="font-semibold">{name}</span>
              <span className="text-muted">on {sheet}</span>
            </button>
          </li>
        );
      })}
    </ul>
  );
}
