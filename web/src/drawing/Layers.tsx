import { LINE_WIDTHS } from '@tether/core';
import type { Layer } from '@tether/documents';
import { Eye, EyeOff, Lock, LockOpen, Plus, Printer, PrinterX, Trash2 } from 'lucide-react';
import { PanelFold } from '../documents/PanelFold.tsx';
import { useSurface } from '../documents/surface.ts';
import { ColourField } from '../page/fields/ColourField.tsx';
import { USUAL_LAYER } from '../page/surface/layers.ts';
import type { PageSurface } from '../page/surface/page-surface.ts';
import { Button } from '../ui/Button.tsx';
import { LineField } from '../ui/fields/LineField.tsx';
import { SelectField } from '../ui/fields/SelectField.tsx';
import { IconButton } from '../ui/IconButton.tsx';

/** In place of a layer's name or line: none. */
const NONE = 'none';

/** The layers of a drawing: what is seen, printed and locked together, and drawn alike. */
export function Layers({ surface, isAllowed }: { surface: PageSurface; isAllowed: boolean }) {
  const layers = useSurface(surface, () => surface.pages.layers());
  const forNew = useSurface(surface, () => surface.shown.layerForNew());
  const add = () =>
    surface.pages.step(() =>
      surface.pages.addPart('layers', {
        ...{ id: crypto.randomUUID(), name: `Layer ${layers.length + 1}` },
        ...{ order: (layers.at(-1)?.order ?? 0) + 1 },
        ...{ isVisible: true, isPrinted: true, isLocked: false, colour: null, line: null },
      }),
    );
  return (
    <PanelFold title="Layers" note={layers.length === 0 ? 'one' : String(layers.length + 1)}>
      {layers.length > 0 && (
        <SelectField
          label="New things on"
          value={forNew ?? NONE}
          options={[
            { value: NONE, label: USUAL_LAYER },
            ...layers.map(({ id, name }) => ({ value: id, label: name })),
          ]}
          disabled={!isAllowed}
          onChange={(id) => surface.shown.setLayerForNew(id === NONE ? null : id)}
        />
      )}
      <ul className="mt-2 flex flex-col gap-2 empty:hidden">
        {layers.map((layer) => (
          <OneLayer key={layer.id} surface={surface} layer={layer} isAllowed={isAllowed} />
        ))}
      </ul>
      {isAllowed && (
        <Button className="mt-2 h-7" onClick={add}>
          <Plus size={14} aria-hidden /> Add a layer
        </Button>
      )}
    </PanelFold>
  );
}

function OneLayer(props: { surface: PageSurface; layer: Layer; isAllowed: boolean }) {
  const { surface, layer, isAllowed } = props;
  const { id, name, isVisible, isPrinted, isLocked, colour, line } = layer;
  const change = (changes: Partial<Layer>) =>
    surface.pages.step(() => surface.pages.changePart('layers', id, changes));
  const remove = () =>
    surface.pages.step(() => {
      for (const thing of surface.pages.things()) {
        if (thing.layer === id) surface.pages.change(thing.id, { layer: null });
      }
      surface.pages.removePart('layers', id);
    });
  return (
    <li className="flex flex-col gap-1.5 rounded-box border border-hairline p-2">
      <LineField
        label="Layer"
        value={name}
        maxLength={120}
        isAllowed={isAllowed}
        onChange={(next) => next.trim() !== '' && change({ name: next.trim() })}
      />
      <ColourField
        label="Colour"
        value={colour}
        note={colour === null ? 'each thing its own' : null}
        isAllowed={isAllowed}
        onChange={(next) => change({ colour: next })}
      />
      <SelectField
        label="Lines"
        value={line === null ? NONE : String(line)}
        options={[
          { value: NONE, label: 'each thing its own' },
          ...[...new Set([...LINE_WIDTHS, ...(line === null ? [] : [line])])].map((width) => ({
            value: String(width),
            label: `${width} mm`,
          })),
        ]}
        disabled={!isAllowed}
        onChange={(next) => change({ line: next === NONE ? null : Number(next) })}
      />
      <div className="flex gap-0.5">
        <IconButton
          icon={isVisible ? Eye : EyeOff}
          label={isVisible ? `Hide ${name}` : `Show ${name}`}
          className="size-7"
          disabled={!isAllowed}
          onClick={() => change({ isVisible: !isVisible })}
        />
        <IconButton
          icon={isPrinted ? Printer : PrinterX}
          label={isPrinted ? `Do not print ${name}` : `Print ${name}`}
          className="size-7"
          disabled={!isAllowed}
          onClick={() => change({ isPrinted: !isPrinted })}
        />
        <IconButton
          icon={isLocked ? Lock : LockOpen}
          label={isLocked ? `Unlock ${name}` : `Lock ${name}`}
          className="size-7"
          disabled={!isAllowed}
          onClick={() => change({ isLocked: !isLocked })}
        />
        <IconButton
          icon={Trash2}
          label={`Delete ${name}; its things come onto the usual layer`}
          className="size-7"
          disabled={!isAllowed}
          onClick={remove}
        />
      </div>
      {(!isVisible || !isPrinted) && (
        <p className="text-sm text-muted">
          {isVisible ? 'Seen here, and not printed.' : 'Hidden, and not printed.'}
        </p>
      )}
    </li>
  );
}
