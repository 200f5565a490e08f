import type { LucideIcon } from 'lucide-react';
import { Ban } from 'lucide-react';
import { Popup } from '../Popup.tsx';

/** Colours to begin with, named for those who do not see them: strong ones for text, pale ones for what lies behind it. */
const STRONG = {
  Ink: '#10242B',
  Grey: '#52656D',
  White: '#FFFFFF',
  Red: '#B3261E',
  Rust: '#B9772A',
  Green: '#1F7A5C',
  Teal: '#0B4F5C',
  Blue: '#0E6FB0',
};
const PALE = {
  Sand: '#F3E3CF',
  'Pale grey': '#E9EEF0',
  'Pale yellow': '#FBF3C4',
  'Pale red': '#F6D5D2',
  'Pale orange': '#FADFC2',
  'Pale green': '#D3EBDF',
  'Pale teal': '#CFE6EA',
  'Pale blue': '#D3E4F3',
};
const NAMES = new Map(
  Object.entries({ ...STRONG, ...PALE }).map(([name, colour]) => [colour, name]),
);

interface Props {
  label: string;
  icon: LucideIcon;
  /** `#RRGGBB`, `none` for an empty one, null where nothing is set. */
  value: string | null;
  /** Colours that are in use around it, offered first. */
  inUse: readonly string[];
  /** Whether `none` can be chosen. */
  hasNone?: boolean;
  disabled?: boolean;
  onChange: (value: string | null) => void;
}

/** A button that carries a colour and opens a few to choose from; any other can be mixed. */
export function SwatchButton(props: Props) {
  const { label, icon: Icon, value, inUse, hasNone = false, disabled = false, onChange } = props;
  const usual = Object.values(hasNone ? { ...PALE, ...STRONG } : { ...STRONG, ...PALE });
  const own = [...new Set(inUse)].filter((colour) => !usual.includes(colour)).slice(0, 8);
  return (
    <Popup
      label={`${label}: ${nameOf(value)}`}
      disabled={disabled}
      className="w-[236px] p-2"
      face={
        <>
          <Icon size={16} strokeWidth={1.75} aria-hidden className="-mb-1" />
          <span
            aria-hidden
            className="h-1 w-4 rounded-full border border-hairline"
            style={value && value !== 'none' ? { background: value, borderColor: value } : {}}
          />
        </>
      }
    >
      {(close) => {
        const choose = (colour: string | null) => {
          onChange(colour);
          close();
        };
        return (
          <>
            {own.length > 0 && (
              <>
                <p className="mb-1 text-sm font-semibold text-muted">In this table</p>
                <Swatches colours={own} value={value} label={label} onChoose={choose} />
              </>
            )}
            <Swatches colours={usual} value={value} label={label} onChoose={choose} />
            <div className="mt-1 flex items-center justify-between gap-2 border-t border-hairline pt-2">
              <label className="flex items-center gap-1.5">
                <input
                  type="color"
                  aria-label={`${label}: another`}
                  value={value && value !== 'none' ? value.toLowerCase() : '#ffffff'}
                  onChange={(event) => onChange(event.target.value.toUpperCase())}
                  className="size-6 rounded-box border border-hairline bg-white p-0.5"
                />
                another
              </label>
              {hasNone && (
                <button
                  type="button"
                  aria-pressed={value === 'none'}
                  className="flex h-7 items-center gap-1 rounded-box px-1.5 hover:bg-mist"
                  onClick={() => choose('none')}
                >
                  <Ban size={14} aria-hidden /> none
                </button>
              )}
              <button
                type="button"
                className="h-7 rounded-box px-1.5 hover:bg-mist"
                onClick={() => choose(null)}
              >
                as it was
              </button>
            </div>
          </>
        );
      }}
    </Popup>
  );
}

function Swatches(props: {
  colours: readonly string[];
  value: string | null;
  label: string;
  onChoose: (colour: string) => void;
}) {
  const { colours, value, label, onChoose } = props;
  return (
    <div className="mb-1 grid grid-cols-8 gap-1">
      {colours.map((colour) => (
        <button
          key={colour}
          type="button"
          aria-label={`${label}: ${nameOf(colour)}`}
          title={nameOf(colour)}
          aria-pressed={value === colour}
          onClick={() => onChoose(colour)}
          className={`size-[22px] rounded-[3px] border ${value === colour ? 'border-2 border-rope' : 'border-hairline hover:border-deep'}`}
          style={{ background: colour }}
        />
      ))}
    </div>
  );
}

function nameOf(colour: string | null): string {
  if (colour === null) return 'as it was';
  return colour === 'none' ? 'none' : (NAMES.get(colour) ?? colour);
}
