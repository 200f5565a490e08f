import {
  Baseline,
  Bold,
  Italic,
  PaintBucket,
  TextAlignCenter,
  TextAlignEnd,
  TextAlignStart,
} from 'lucide-react';
import { SwatchButton } from '../../../ui/fields/SwatchButton.tsx';
import { IconButton } from '../../../ui/IconButton.tsx';
import type { Part } from './usePart.ts';

const SIDES = [
  { side: 'left', label: 'Align left', icon: TextAlignStart },
  { side: 'center', label: 'Centre', icon: TextAlignCenter },
  { side: 'right', label: 'Align right', icon: TextAlignEnd },
] as const;

/** Weight, alignment and colours of a part of a table. What is pressed is what is seen; pressing it again takes it back. */
export function LookButtons({ part, isAllowed }: { part: Part; isAllowed: boolean }) {
  const { look, shown, colours, set } = part;
  // Turned over and back, it follows the source again instead of insisting on what it has anyway.
  const turn = (now: boolean, isSet: boolean) => (isSet ? undefined : !now);
  return (
    <>
      <IconButton
        icon={Bold}
        label="Bold"
        isOn={shown.bold}
        disabled={!isAllowed}
        onClick={() => set({ bold: turn(shown.bold, look.bold !== undefined) })}
      />
      <IconButton
        icon={Italic}
        label="Italic"
        isOn={shown.italic}
        disabled={!isAllowed}
        onClick={() => set({ italic: turn(shown.italic, look.italic !== undefined) })}
      />
      <Rule />
      {SIDES.map(({ side, label, icon }) => (
        <IconButton
          key={side}
          icon={icon}
          label={label}
          isOn={shown.align === side}
          disabled={!isAllowed}
          onClick={() => set({ align: look.align === side ? undefined : side })}
        />
      ))}
      <Rule />
      <SwatchButton
        label="Text colour"
        icon={Baseline}
        value={look.colour ?? null}
        inUse={colours.letters}
        disabled={!isAllowed}
        onChange={(colour) => set({ colour: colour ?? undefined })}
      />
      <SwatchButton
        label="Fill"
        icon={PaintBucket}
        value={look.fill ?? null}
        inUse={colours.fills}
        hasNone
        disabled={!isAllowed}
        onChange={(fill) => set({ fill: fill ?? undefined })}
      />
    </>
  );
}

function Rule() {
  return <span aria-hidden className="mx-0.5 h-5 w-px shrink-0 bg-hairline" />;
}
