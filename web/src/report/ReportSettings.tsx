import type { Tether } from '@tether/contract';
import { A_SERIES, PAPER_SIZES } from '@tether/core';
import type { ReportSettings, RunningLine } from '@tether/documents';
import { LookOfTables } from '../documents/LookOfTables.tsx';
import { PanelFold } from '../documents/PanelFold.tsx';
import { type Surface, useSurface } from '../documents/surface.ts';
import { ChoiceField } from '../ui/fields/ChoiceField.tsx';
import { LineField } from '../ui/fields/LineField.tsx';
import { NumberField } from '../ui/fields/NumberField.tsx';
import { SelectField } from '../ui/fields/SelectField.tsx';
import { lineForEditing, lineFromEditing } from './pages/running-line.ts';
import { ReportSurface } from './report-surface.ts';
import { CountsFold, OutlineFold } from './text/rail/TextFolds.tsx';

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
      <LookOfTables look={look} isAllowed={isAllowed} onChange={(next) => set({ look: next })} />
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
      maxLength={150}
      value={lineForEditing(line[key], objects)}
      isAllowed={isAllowed}
      onChange={(text) => onChange({ ...line, [key]: lineFromEditing(text, objects) })}
    />
  ));
}
