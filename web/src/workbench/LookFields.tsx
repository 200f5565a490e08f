import {
  ASPECTS,
  type Aspect,
  type DocumentLook,
  type Snapshot,
  type TableLook,
} from '@tether/core';
import type { Dressing } from '@tether/documents';
import { ChoiceField } from '../ui/fields/ChoiceField.tsx';
import { LookPicture } from './LookPicture.tsx';

const WORDS: Record<Aspect, string> = {
  letters: 'Font',
  fills: 'Fill, borders',
  formats: 'Number format',
  widths: 'Column width',
};
const AS_SOURCE: TableLook = {};
const AS_DOCUMENT: TableLook = Object.fromEntries(
  ASPECTS.map((aspect) => [aspect, 'document' as const]),
);
const PARTS = [1, 2, 3, 4];
const AS_NEEDED = 'as needed';

interface Props {
  snapshot: Snapshot;
  dressing: Dressing;
  document: DocumentLook;
  isAllowed: boolean;
  onChange: (change: Dressing) => void;
}

/** Whether a table looks as its source or as the document: two pictures of its own cells. */
export function LookFields({ snapshot, dressing, document, isAllowed, onChange }: Props) {
  const look = dressing.table ?? AS_SOURCE;
  const following = new Set(ASPECTS.map((aspect) => look[aspect] ?? 'source'));
  return (
    <ChoiceField
      label="Look"
      isTiled
      value={following.size > 1 ? null : [...following][0]!}
      options={[
        {
          value: 'source',
          label: 'of the source',
          picture: <LookPicture snapshot={snapshot} look={AS_SOURCE} document={document} />,
        },
        {
          value: 'document',
          label: 'of the document',
          picture: <LookPicture snapshot={snapshot} look={AS_DOCUMENT} document={document} />,
        },
      ]}
      disabled={!isAllowed}
      onChange={(all) => onChange({ table: all === 'source' ? {} : AS_DOCUMENT })}
    />
  );
}

/** The same for each aspect of the look by itself, and in how many parts the rows stand side by side. */
export function MixedLookFields({
  dressing,
  isAllowed,
  foldsTables,
  onChange,
}: Pick<Props, 'dressing' | 'isAllowed' | 'onChange'> & {
  /** Whether tables that are too high stand in parts side by side by themselves. */
  foldsTables: boolean;
}) {
  const look = dressing.table ?? AS_SOURCE;
  return (
    <div className="flex flex-col gap-2">
      <p className="text-muted">
        Each from the source or from the document, as set under “Tables that follow the document”.
      </p>
      {ASPECTS.map((aspect) => (
        <ChoiceField
          key={aspect}
          label={WORDS[aspect]}
          value={look[aspect] ?? 'source'}
          options={[
            { value: 'source', label: 'source' },
            { value: 'document', label: aspect === 'widths' ? 'fit the page' : 'document' },
          ]}
          disabled={!isAllowed}
          onChange={(follows) => onChange({ table: { ...look, [aspect]: follows } })}
        />
      ))}
      <ChoiceField
        label="Side by side"
        value={String(dressing.beside ?? (foldsTables ? AS_NEEDED : 1))}
        options={[
          ...(foldsTables ? [{ value: AS_NEEDED, label: 'as needed' }] : []),
          ...PARTS.map((parts) => ({
            value: String(parts),
            label: parts === 1 ? 'no' : String(parts),
          })),
        ]}
        disabled={!isAllowed}
        onChange={(parts) => onChange({ beside: parts === AS_NEEDED ? undefined : Number(parts) })}
      />
      <p className="text-sm text-muted">
        A long table in 2, 3 or 4 parts side by side, each with its header.
      </p>
    </div>
  );
}
