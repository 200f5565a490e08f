import { type DocumentLook, TABLE_STYLES, type TableStyle } from '@tether/core';
import { ChoiceField } from '../ui/fields/ChoiceField.tsx';
import { SelectField } from '../ui/fields/SelectField.tsx';
import { PanelFold } from './PanelFold.tsx';

const STYLE_WORDS: Record<TableStyle, string> = {
  hairlines: 'lines under rows',
  bands: 'shaded rows',
  'dark head': 'dark header',
  bare: 'plain',
};
const DATES = ['d mmm yyyy', 'd mmmm yyyy', 'yyyy-mm-dd', 'dd/mm/yyyy', 'mmm d, yyyy'];

/** How the tables of a document look that follow it instead of their source. */
export function LookOfTables(props: {
  look: DocumentLook;
  isAllowed: boolean;
  /** Whether their style is chosen here; else it comes with something else. */
  hasStyle?: boolean;
  onChange: (look: DocumentLook) => void;
}) {
  const { look, isAllowed, hasStyle = true, onChange } = props;
  return (
    <PanelFold title="Tables that follow the document">
      <div className="flex flex-col gap-2">
        {hasStyle && (
          <SelectField
            label="Style"
            value={look.tableStyle}
            options={TABLE_STYLES.map((style) => ({ value: style, label: STYLE_WORDS[style] }))}
            disabled={!isAllowed}
            onChange={(tableStyle) => onChange({ ...look, tableStyle })}
          />
        )}
        <ChoiceField
          label="Decimals"
          value={String(look.decimals)}
          options={[0, 1, 2, 3, 4].map((count) => ({
            value: String(count),
            label: String(count),
          }))}
          disabled={!isAllowed}
          onChange={(count) => onChange({ ...look, decimals: Number(count) })}
        />
        <SelectField
          label="Dates"
          value={look.dates}
          options={[...new Set([...DATES, look.dates])].map((code) => ({
            value: code,
            label: code,
          }))}
          disabled={!isAllowed}
          onChange={(dates) => onChange({ ...look, dates })}
        />
      </div>
    </PanelFold>
  );
}
