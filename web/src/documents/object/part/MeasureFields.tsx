import { FormatField } from '../../../ui/fields/FormatField.tsx';
import { NumberField } from '../../../ui/fields/NumberField.tsx';
import { Tick } from '../../../ui/fields/Tick.tsx';
import type { Part } from './usePart.ts';

/** Number format, width and height of a part of a table, and whether it is shown at all. */
export function MeasureFields({ part, isAllowed }: { part: Part; isAllowed: boolean }) {
  const { look, row, column, kind, set } = part;
  return (
    <>
      <FormatField
        // The field of one part is not that of another.
        key={part.name}
        label="Number format"
        value={look.format ?? ''}
        usual="as it was"
        sample={part.sample}
        disabled={!isAllowed}
        onChange={(format) => set({ format: format === '' ? undefined : format })}
      />
      {row === null && (
        <NumberField
          label={kind === 'table' ? 'Column width' : 'Width'}
          value={look.width ?? null}
          unit="mm"
          min={2}
          max={400}
          placeholder="as it was"
          disabled={!isAllowed}
          onChange={(width) => set({ width: width ?? undefined })}
        />
      )}
      {column === null && (
        <NumberField
          label={kind === 'table' ? 'Row height' : 'Height'}
          value={look.height ?? null}
          unit="mm"
          min={2}
          max={250}
          placeholder="as it was"
          disabled={!isAllowed}
          onChange={(height) => set({ height: height ?? undefined })}
        />
      )}
      {(kind === 'row' || kind === 'column') && (
        <Tick
          isOn={look.isHidden ?? false}
          isDisabled={!isAllowed}
          onChange={(isOn) => set({ isHidden: isOn || undefined })}
        >
          {kind === 'column' ? 'Leave this column out' : 'Leave this row out'}
        </Tick>
      )}
    </>
  );
}
