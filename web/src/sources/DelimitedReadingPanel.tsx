import type { DelimitedGuess, DelimitedReading } from '@tether/core';
import { faultOf, useChangeReadingMutation } from '../state/api.ts';
import { useMayChange } from '../state/useMayChange.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { SelectField } from '../ui/fields/SelectField.tsx';

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
    options: { '"': 'double quotes', "'": 'single quotes', none: 'belong to the text' },
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
    label: 'Encoding',
    options: {
      'utf-8': 'Unicode (UTF-8)',
      'utf-16le': 'Unicode (UTF-16)',
      'utf-16be': 'Unicode (UTF-16, big end first)',
      'windows-1252': 'Western (Windows-1252)',
      'iso-8859-15': 'Western (ISO 8859-15)',
      macintosh: 'Western (Mac Roman)',
      'windows-1250': 'Central European (Windows-1250)',
      'iso-8859-2': 'Central European (ISO 8859-2)',
      'windows-1251': 'Cyrillic (Windows-1251)',
      'koi8-r': 'Cyrillic (KOI8-R)',
      'windows-1253': 'Greek (Windows-1253)',
      'windows-1254': 'Turkish (Windows-1254)',
      'windows-1255': 'Hebrew (Windows-1255)',
      'windows-1256': 'Arabic (Windows-1256)',
      'windows-1257': 'Baltic (Windows-1257)',
      'windows-1258': 'Vietnamese (Windows-1258)',
      shift_jis: 'Japanese (Shift_JIS)',
      'euc-jp': 'Japanese (EUC-JP)',
      gb18030: 'Chinese, simplified (GB18030)',
      big5: 'Chinese, traditional (Big5)',
      'euc-kr': 'Korean (EUC-KR)',
    } satisfies Record<DelimitedReading['encoding'], string>,
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
