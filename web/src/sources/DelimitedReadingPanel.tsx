import type { DelimitedGuess, DelimitedReading } from '@tether/core';
import { faultOf, useChangeReadingMutation } from '../app/api.ts';
import { useMayChange } from '../app/useMayChange.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { SelectField } from '../ui/SelectField.tsx';

type Key = keyof DelimitedReading;

const ASPECTS: { key: Key; label: string; options: Record<string, string> }[] = [
  {
    key: 'delimiter',
    label: 'Fields end at',
    options: { ',': 'comma', ';': 'semicolon', '\t': 'tab', '|': 'bar' },
  },
  {
    key: 'quote',
    label: 'Quotes',
    options: { '"': 'double quotes', "'": 'single quotes', none: 'are letters' },
  },
  { key: 'decimal', label: 'Decimal mark', options: { '.': 'point', ',': 'comma' } },
  {
    key: 'dates',
    label: '1/2/2026 is',
    options: {
      'by column': 'by column',
      'day first': '1 February',
      'month first': '2 January',
      'as text': 'a text, as all dates',
    },
  },
  {
    key: 'encoding',
    label: 'Letters',
    options: {
      'utf-8': 'UTF-8',
      'windows-1252': 'Windows-1252',
      'utf-16le': 'UTF-16',
      'utf-16be': 'UTF-16, big end first',
    },
  },
];

/** How a delimited text is read: what was found by looking, and what somebody says otherwise. */
export function DelimitedReadingPanel(props: { sourceId: string; guess: DelimitedGuess }) {
  const { sourceId, guess } = props;
  const { guessed, overruled } = guess;
  const [change, { isLoading, error }] = useChangeReadingMutation();
  const { isAllowed, whyNot } = useMayChange();
  const set = (key: Key, value: string) => {
    const { [key]: _, ...rest } = overruled;
    // Choosing what was found is no longer overruling it.
    const delimited = value === guessed[key] ? rest : { ...rest, [key]: value };
    void change({ id: sourceId, delimited: delimited as Partial<DelimitedReading> });
  };
  const count = Object.keys(overruled).length;
  return (
    <section aria-labelledby="how-read">
      <h2 id="how-read" className="text-[15px] font-semibold">
        How it is read
      </h2>
      <p className="mb-2 text-muted">
        {count === 0
          ? 'Found by looking at the text.'
          : `${count} of these ${count === 1 ? 'is' : 'are'} not as found by looking.`}
      </p>
      <div className="flex flex-col gap-1.5" title={whyNot}>
        {ASPECTS.map(({ key, label, options }) => (
          <SelectField
            key={key}
            label={label}
            value={overruled[key] ?? guessed[key]}
            disabled={!isAllowed || isLoading}
            options={Object.entries(options).map(([value, words]) => ({
              value,
              label: value === guessed[key] ? `${words} (found)` : words,
            }))}
            onChange={(value) => set(key, value)}
          />
        ))}
      </div>
      {count > 0 && (
        <Button
          className="mt-2"
          disabled={!isAllowed || isLoading}
          onClick={() => void change({ id: sourceId, delimited: {} })}
        >
          Back to what was found
        </Button>
      )}
      {error && <FaultNote fault={faultOf(error)} className="mt-2" />}
    </section>
  );
}
