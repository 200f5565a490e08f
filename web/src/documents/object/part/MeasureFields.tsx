import { NumberField } from '../../../ui/NumberField.tsx';
import { TextField } from '../../../ui/TextField.tsx';
import { Tick } from '../../../ui/Tick.tsx';
import type { Part } from './usePart.ts';

/** Number format, width and height of a part of a table, and whether it is shown at all. */
export function MeasureFields({ part, isAllowed }: { part: Part; isAllowed: boolean }) {
  const { look, row, column, kind, set } = part;
  return (
    <>
      <TextField
        label="Number format"
        isAddress
        value={look.format ?? ''}
        maxLength={120}
        disabled={!isAllowed}
        placeholder="as it was, or such as 0.00"
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
