import type { Dressing } from '@tether/contract';
import { ASPECTS, type Aspect, type TableLook } from '@tether/core';
import { SelectField } from '../ui/SelectField.tsx';

const WORDS: Record<Aspect, { label: string; source: string; document: string }> = {
  letters: { label: 'Font', source: 'of the source', document: 'of the report' },
  fills: { label: 'Fill, borders', source: 'of the source', document: 'of the report' },
  formats: { label: 'Number format', source: 'as in the source', document: 'as in the report' },
  widths: { label: 'Column width', source: 'of the source', document: 'fit the page' },
};
const ALL: TableLook = Object.fromEntries(ASPECTS.map((aspect) => [aspect, 'document' as const]));

/** What of a table's look follows its source, and what the report; all at once or each by itself; and how it is folded. */
export function LookFields(props: {
  dressing: Dressing;
  isAllowed: boolean;
  onChange: (change: Dressing) => void;
}) {
  const { dressing, isAllowed, onChange } = props;
  const look = dressing.table ?? {};
  const following = new Set(ASPECTS.map((aspect) => look[aspect] ?? 'source'));
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
          if (all === 'source') onChange({ table: {} });
          if (all === 'document') onChange({ table: ALL });
        }}
      />
      {ASPECTS.map((aspect) => (
        <SelectField
          key={aspect}
          label={WORDS[aspect].label}
          value={look[aspect] ?? 'source'}
          options={[
            { value: 'source', label: WORDS[aspect].source },
            { value: 'document', label: WORDS[aspect].document },
          ]}
          disabled={!isAllowed}
          onChange={(follows) => onChange({ table: { ...look, [aspect]: follows } })}
        />
      ))}
      <SelectField
        label="Rows"
        value={String(dressing.beside ?? 1)}
        options={[
          { value: '1', label: 'one below the other' },
          ...[2, 3, 4].map((parts) => ({
            value: String(parts),
            label: `in ${parts} parts side by side`,
          })),
        ]}
        disabled={!isAllowed}
        onChange={(parts) => onChange({ beside: Number(parts) })}
      />
    </>
  );
}
