import { roundMm } from '@tether/core';
import { NumberField } from '../../ui/fields/NumberField.tsx';

interface Props {
  label: string;
  value: number;
  isAllowed: boolean;
  onChange: (value: number) => void;
}

/** Far more than the largest sheet, in millimetres; and than the largest plan, in metres. */
const FAR_ON_PAGE = 20_000;
const FAR_IN_PLAN = 100_000;

/** A place or a length on the page. */
export function Millimetres({ label, value, isAllowed, onChange }: Props) {
  return (
    <NumberField
      label={label}
      value={roundMm(value)}
      unit="mm"
      min={-FAR_ON_PAGE}
      max={FAR_ON_PAGE}
      isExact
      disabled={!isAllowed}
      onChange={(next) => next !== null && onChange(next)}
    />
  );
}

/** A place or, where it is more than nought, a length in a plan; both are kept in millimetres. */
export function Metres(props: Props & { isLength?: boolean }) {
  const { label, value, isAllowed, isLength = false, onChange } = props;
  return (
    <NumberField
      label={label}
      value={value / 1000}
      unit="m"
      min={isLength ? 0.001 : -FAR_IN_PLAN}
      max={FAR_IN_PLAN}
      isExact
      disabled={!isAllowed}
      onChange={(next) => next !== null && onChange(next * 1000)}
    />
  );
}

/** How something is turned, clockwise. */
export function Degrees({ label, value, isAllowed, onChange }: Props) {
  return (
    <NumberField
      label={label}
      value={value}
      unit="°"
      min={-360}
      max={360}
      isExact
      disabled={!isAllowed}
      onChange={(next) => onChange(next ?? 0)}
    />
  );
}
