import { describeMode, type Mode, type Timetable } from '@tether/core';
import { useId } from 'react';
import { NumberField } from '../ui/fields/NumberField.tsx';
import { SelectField } from '../ui/fields/SelectField.tsx';

/** What a mode is chosen by; `inherited` leaves it to whoever comes next. */
type Choice = 'inherited' | 'automatic' | 'ask' | 'always' | 'every' | 'at' | 'manual';

const WORDS: { value: Exclude<Choice, 'inherited'>; label: string }[] = [
  { value: 'automatic', label: 'automatically' },
  { value: 'ask', label: 'on opening, after asking' },
  { value: 'always', label: 'on opening, always' },
  { value: 'every', label: 'every so many minutes' },
  { value: 'at', label: 'at a time of day' },
  { value: 'manual', label: 'only by hand' },
];

const SENTENCES: Record<Mode['kind'], string> = {
  automatic: 'As soon as the source is saved, also while nobody has the document open.',
  'on opening': 'When somebody opens the document.',
  timetable: 'By the clock, also while nobody has the document open.',
  manual: 'Never by itself.',
};

function choiceOf(mode: Mode): Exclude<Choice, 'inherited'> {
  switch (mode.kind) {
    case 'on opening':
      return mode.how;
    case 'timetable':
      return 'every' in mode.timetable ? 'every' : 'at';
    default:
      return mode.kind;
  }
}

function ownZone(): string {
  return Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC';
}

function modeFor(choice: Exclude<Choice, 'inherited'>): Mode {
  switch (choice) {
    case 'ask':
    case 'always':
      return { kind: 'on opening', how: choice };
    case 'every':
      return { kind: 'timetable', timetable: { every: 60 } };
    case 'at':
      return { kind: 'timetable', timetable: { at: '07:00', days: 'weekdays', zone: ownZone() } };
    default:
      return { kind: choice };
  }
}

interface Props {
  label?: string;
  /** What is said here; null for nothing. */
  own: Mode | null;
  /** What holds where nothing is said here (null where that differs), and who says it; absent where something must be said. */
  inherited?: { mode: Mode | null; from: string };
  disabled: boolean;
  onChange: (mode: Mode | null) => void;
}

/** When something refreshes: a mode with its timetable. */
export function ModeFields({ label = 'Refreshes', own, inherited, disabled, onChange }: Props) {
  const mode = own ?? inherited?.mode ?? null;
  const options: { value: Choice; label: string }[] = [
    ...(inherited
      ? [
          {
            value: 'inherited' as const,
            label: `as ${inherited.from} says`,
          },
        ]
      : []),
    ...WORDS,
  ];
  return (
    <div className="flex flex-col gap-2">
      <SelectField<Choice>
        label={label}
        value={own ? choiceOf(own) : 'inherited'}
        options={options}
        disabled={disabled}
        onChange={(choice) => onChange(choice === 'inherited' ? null : modeFor(choice))}
      />
      {own?.kind === 'timetable' && (
        <TimetableFields
          timetable={own.timetable}
          disabled={disabled}
          onChange={(timetable) => onChange({ kind: 'timetable', timetable })}
        />
      )}
      {mode && (
        <p className="text-sm text-muted">
          {!own && (
            <>
              <span className="inline-block font-semibold text-ink first-letter:uppercase">
                {describeMode(mode)}.
              </span>{' '}
            </>
          )}
          {SENTENCES[mode.kind]}
        </p>
      )}
    </div>
  );
}

function TimetableFields(props: {
  timetable: Timetable;
  disabled: boolean;
  onChange: (timetable: Timetable) => void;
}) {
  const { timetable, disabled, onChange } = props;
  const id = useId();
  if ('every' in timetable) {
    return (
      <NumberField
        label="Every"
        value={timetable.every}
        unit="min"
        min={1}
        max={1440}
        disabled={disabled}
        onChange={(every) => every !== null && onChange({ every: Math.round(every) })}
      />
    );
  }
  return (
    <>
      <div className="grid grid-cols-[92px_1fr] items-center gap-2">
        <label htmlFor={id} className="text-sm font-semibold text-muted">
          At
        </label>
        <input
          id={id}
          type="time"
          value={timetable.at}
          disabled={disabled}
          onChange={({ target }) => target.value && onChange({ ...timetable, at: target.value })}
          className="h-7 rounded-box border border-hairline bg-white px-1.5 disabled:bg-mist"
        />
      </div>
      <SelectField
        label="Days"
        value={timetable.days}
        options={[
          { value: 'weekdays', label: 'Monday to Friday' },
          { value: 'daily', label: 'every day' },
        ]}
        disabled={disabled}
        onChange={(days) => onChange({ ...timetable, days })}
      />
      <SelectField
        label="Time zone"
        value={timetable.zone}
        options={[
          ...new Set([timetable.zone, ownZone(), ...Intl.supportedValuesOf('timeZone')]),
        ].map((zone) => ({ value: zone, label: zone === ownZone() ? `${zone}, yours` : zone }))}
        disabled={disabled}
        onChange={(zone) => onChange({ ...timetable, zone })}
      />
    </>
  );
}
