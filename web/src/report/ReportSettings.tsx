import type { Tether } from '@tether/contract';
import { A_SERIES, PAPER_SIZES, TABLE_STYLES, type TableStyle } from '@tether/core';
import type { ReportSettings, RunningLine } from '@tether/documents';
import { useEffect, useState } from 'react';
import { PanelFold } from '../documents/PanelFold.tsx';
import { type Surface, useSurface } from '../documents/surface.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { NumberField } from '../ui/NumberField.tsx';
import { SelectField } from '../ui/SelectField.tsx';
import { lineForEditing, lineFromEditing } from './pages/running-line.ts';
import { ReportSurface } from './report-surface.ts';
import { CountsFold, OutlineFold } from './text/TextFolds.tsx';

const STYLE_WORDS: Record<TableStyle, string> = {
  hairlines: 'lines under rows',
  bands: 'shaded rows',
  'dark head': 'dark header',
  bare: 'plain',
};
const DATES = ['d mmm yyyy', 'd mmmm yyyy', 'yyyy-mm-dd', 'dd/mm/yyyy', 'mmm d, yyyy'];
/** Languages to choose from; a document can have another one. */
const LANGUAGES = [
  'en-GB',
  'en-US',
  'cy',
  'da',
  'de',
  'es',
  'fi',
  'fr',
  'ga',
  'it',
  'nb',
  'nl',
  'pl',
  'pt',
  'sv',
];
const languageNames = new Intl.DisplayNames('en', { type: 'language' });

function nameOfLanguage(tag: string): string {
  try {
    return languageNames.of(tag) ?? tag;
  } catch {
    return tag;
  }
}

const SIDES = ['top', 'right', 'bottom', 'left'] as const;
const SIDE_WORDS = { top: 'Top', right: 'Right', bottom: 'Bottom', left: 'Left' };

interface Props {
  surface: Surface;
  objects: readonly Tether[];
  isAllowed: boolean;
}

/** What is settled once for a report: its paper, how its own tables look, and what stands at the head and foot of its pages. */
export function ReportSettingsFields({ surface, ...props }: Props) {
  return surface instanceof ReportSurface ? <Fields surface={surface} {...props} /> : null;
}

function Fields(props: Omit<Props, 'surface'> & { surface: ReportSurface }) {
  const { surface, objects, isAllowed } = props;
  const { language, paper, look, header, footer } = useSurface(surface, () => surface.settings());
  const set = (change: Partial<ReportSettings>) => surface.changeSettings(change);
  return (
    <>
      <OutlineFold surface={surface} />
      <CountsFold surface={surface} />
      <PanelFold title="Language" note={nameOfLanguage(language)}>
        <SelectField
          label="Of its words"
          value={language}
          options={[...new Set([...LANGUAGES, language])].map((tag) => ({
            value: tag,
            label: nameOfLanguage(tag),
          }))}
          disabled={!isAllowed}
          onChange={(next) => set({ language: next })}
        />
        <p className="mt-2 text-sm text-muted">
          Your browser looks up spelling in it, as far as it knows the language.
        </p>
      </PanelFold>
      <PanelFold title="Paper">
        <div className="flex flex-col gap-2">
          <SelectField
            label="Size"
            value={paper.size}
            options={PAPER_SIZES.map((size) => ({
              value: size,
              label: `${size}, ${A_SERIES[size].join(' × ')} mm`,
            }))}
            disabled={!isAllowed}
            onChange={(size) => set({ paper: { ...paper, size } })}
          />
          <ChoiceField
            label="Orientation"
            value={paper.isLandscape ? 'landscape' : 'portrait'}
            options={[
              { value: 'portrait', label: 'portrait' },
              { value: 'landscape', label: 'landscape' },
            ]}
            disabled={!isAllowed}
            onChange={(way) => set({ paper: { ...paper, isLandscape: way === 'landscape' } })}
          />
          <p className="text-sm font-semibold text-muted">Margins</p>
          {SIDES.map((side) => (
            <NumberField
              key={side}
              label={SIDE_WORDS[side]}
              value={paper.margins[side]}
              unit="mm"
              min={5}
              max={80}
              disabled={!isAllowed}
              onChange={(millimetres) =>
                millimetres !== null &&
                set({ paper: { ...paper, margins: { ...paper.margins, [side]: millimetres } } })
              }
            />
          ))}
        </div>
      </PanelFold>
      <PanelFold title="Tables that follow the report">
        <div className="flex flex-col gap-2">
          <SelectField
            label="Style"
            value={look.tableStyle}
            options={TABLE_STYLES.map((style) => ({ value: style, label: STYLE_WORDS[style] }))}
            disabled={!isAllowed}
            onChange={(tableStyle) => set({ look: { ...look, tableStyle } })}
          />
          <ChoiceField
            label="Decimals"
            value={String(look.decimals)}
            options={[0, 1, 2, 3, 4].map((count) => ({
              value: String(count),
              label: String(count),
            }))}
            disabled={!isAllowed}
            onChange={(count) => set({ look: { ...look, decimals: Number(count) } })}
          />
          <SelectField
            label="Dates"
            value={look.dates}
            options={[...new Set([...DATES, look.dates])].map((code) => ({
              value: code,
              label: code,
            }))}
            disabled={!isAllowed}
            onChange={(dates) => set({ look: { ...look, dates } })}
          />
        </div>
      </PanelFold>
      <PanelFold title="Header and footer of the pages">
        <div className="flex flex-col gap-2">
          <p className="text-muted">
            Type words, and in braces: {'{page}'}, {'{pages}'}, {'{title}'}, or an object’s name for
            its value.
          </p>
          <LineFields
            name="Header"
            line={header}
            objects={objects}
            isAllowed={isAllowed}
            onChange={(next) => set({ header: next })}
          />
          <LineFields
            name="Footer"
            line={footer}
            objects={objects}
            isAllowed={isAllowed}
            onChange={(next) => set({ footer: next })}
          />
        </div>
      </PanelFold>
    </>
  );
}

const PLACES: { key: keyof RunningLine; label: string }[] = [
  { key: 'left', label: 'at the left' },
  { key: 'middle', label: 'in the middle' },
  { key: 'right', label: 'at the right' },
];

function LineFields(props: {
  name: string;
  line: RunningLine;
  objects: readonly Tether[];
  isAllowed: boolean;
  onChange: (line: RunningLine) => void;
}) {
  const { name, line, objects, isAllowed, onChange } = props;
  return PLACES.map(({ key, label }) => (
    <LineField
      key={key}
      label={`${name} ${label}`}
      value={lineForEditing(line[key], objects)}
      isAllowed={isAllowed}
      onChange={(text) => onChange({ ...line, [key]: lineFromEditing(text, objects) })}
    />
  ));
}

/** Taken over when the person is done, so that a half-written field is no step of its own. */
function LineField(props: {
  label: string;
  value: string;
  isAllowed: boolean;
  onChange: (value: string) => void;
}) {
  const { label, value, isAllowed, onChange } = props;
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  return (
    <label className="flex flex-col gap-1">
      <span className="text-sm font-semibold text-muted">{label}</span>
      <input
        value={text}
        maxLength={150}
        disabled={!isAllowed}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => text !== value && onChange(text)}
        onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
        className="h-7 rounded-box border border-hairline bg-white px-1.5 disabled:bg-mist"
      />
    </label>
  );
}
