import type { Tether } from '@tether/contract';
import { A_SERIES, DRAWING_SIZES } from '@tether/core';
import { TITLE_FIELDS, type TitleField } from '@tether/documents';
import { ArrowLeft, ArrowRight, Eye, EyeOff, Lock, LockOpen, Plus, Trash2 } from 'lucide-react';
import { LookOfTables } from '../documents/LookOfTables.tsx';
import { PanelFold } from '../documents/PanelFold.tsx';
import { type Surface, useSurface } from '../documents/surface.ts';
import { CrowdingNotes, OutlineFold } from '../page/Outline.tsx';
import { PageSurface } from '../page/page-surface.ts';
import { ChosenThings } from '../page/ThingFields.tsx';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { IconButton } from '../ui/IconButton.tsx';
import { LineField } from '../ui/LineField.tsx';
import { NumberField } from '../ui/NumberField.tsx';
import { SelectField } from '../ui/SelectField.tsx';
import { settingsOf, sheetOf, titleBlockBox } from './drawing-kind.ts';
import { nameOf } from './SheetFrame.tsx';

interface Props {
  surface: Surface;
  objects: readonly Tether[];
  isAllowed: boolean;
}

/** What is chosen on the sheet that is shown, where objects have no room on it, and all that stands on it. */
export function ChosenOnSheet({ surface, ...props }: Props) {
  return surface instanceof PageSurface ? <Chosen surface={surface} {...props} /> : null;
}

function Chosen(props: Omit<Props, 'surface'> & { surface: PageSurface }) {
  const { surface, objects, isAllowed } = props;
  const sheet = useSurface(surface, () => sheetOf(surface.page()));
  return (
    <>
      <h2 className="sr-only">On the sheet</h2>
      <ChosenThings surface={surface} isAllowed={isAllowed} />
      <CrowdingNotes
        surface={surface}
        objects={objects}
        kept={[{ id: 'the title block', box: titleBlockBox(sheet) }]}
      />
      <OutlineFold surface={surface} objects={objects} />
    </>
  );
}

/** What is settled for the sheets of a drawing. */
export function DrawingSettingsFields({ surface, ...props }: Props) {
  return surface instanceof PageSurface ? <Fields surface={surface} {...props} /> : null;
}

function Fields(props: Omit<Props, 'surface'> & { surface: PageSurface }) {
  const { surface, objects, isAllowed } = props;
  const settings = useSurface(surface, () => settingsOf(surface.pages.settings()));
  const set = (name: string, value: unknown) =>
    surface.pages.step(() => surface.pages.set(name, value));
  return (
    <>
      <SheetFields surface={surface} isAllowed={isAllowed} />
      <PanelFold title="Title block">
        <div className="flex flex-col gap-2">
          {(Object.keys(TITLE_FIELDS) as TitleField[]).map((field) => (
            <TitleFieldLine
              key={field}
              surface={surface}
              objects={objects}
              field={field}
              value={settings.fields[field] ?? ''}
              isAllowed={isAllowed}
              onChange={(value) => set(`fields.${field}`, value === '' ? null : value)}
            />
          ))}
        </div>
      </PanelFold>
      <Layers surface={surface} isAllowed={isAllowed} />
      <PanelFold title="Grid" note={settings.grid === null ? 'none' : `${settings.grid} mm`}>
        <NumberField
          label="Lines every"
          value={settings.grid}
          unit="mm"
          min={0.5}
          max={200}
          placeholder="none"
          disabled={!isAllowed}
          onChange={(grid) => set('grid', grid)}
        />
        <p className="mt-2 text-sm text-muted">
          Things snap to it, to the frame and to each other; with Alt held they do not.
        </p>
      </PanelFold>
      <LookOfTables
        look={settings.look}
        isAllowed={isAllowed}
        onChange={(look) => set('look', look)}
      />
    </>
  );
}

function SheetFields({ surface, isAllowed }: { surface: PageSurface; isAllowed: boolean }) {
  const sheets = useSurface(surface, () => surface.pages.pages().map(sheetOf));
  const sheet = useSurface(surface, () => sheetOf(surface.page()));
  const things = useSurface(surface, () => surface.thingsHere().length);
  const at = sheets.findIndex(({ id }) => id === sheet.id);
  const change = (changes: Record<string, unknown>) =>
    surface.pages.step(() => surface.pages.changePart('pages', sheet.id, changes));
  /** Changes places with a neighbour. */
  const swap = (by: -1 | 1) => {
    const other = sheets[at + by];
    if (!other) return;
    surface.pages.step(() => {
      surface.pages.changePart('pages', sheet.id, { order: other.order });
      surface.pages.changePart('pages', other.id, { order: sheet.order });
    });
  };
  const remove = () => {
    const next = sheets[at + 1] ?? sheets[at - 1];
    if (!next) return;
    const here = surface.thingsHere();
    surface.showPage(next.id);
    surface.pages.step(() => {
      for (const { id } of here) surface.pages.remove(id);
      surface.pages.removePart('pages', sheet.id);
    });
  };
  return (
    <PanelFold title="Sheet" note={`${sheet.size} ${sheet.isLandscape ? 'lying' : 'upright'}`}>
      <div className="flex flex-col gap-2">
        <LineField
          label="Name"
          value={sheet.name}
          maxLength={120}
          isAllowed={isAllowed}
          onChange={(name) => name.trim() !== '' && change({ name: name.trim() })}
        />
        <SelectField
          label="Size"
          value={sheet.size}
          options={DRAWING_SIZES.map((size) => ({
            value: size,
            label: `${size}, ${A_SERIES[size].join(' × ')} mm`,
          }))}
          disabled={!isAllowed}
          onChange={(size) => change({ size })}
        />
        <ChoiceField
          label="Way"
          value={sheet.isLandscape ? 'lying' : 'upright'}
          options={[
            { value: 'upright', label: 'upright' },
            { value: 'lying', label: 'lying' },
          ]}
          disabled={!isAllowed}
          onChange={(way) => change({ isLandscape: way === 'lying' })}
        />
        <div className="flex gap-0.5">
          <IconButton
            icon={ArrowLeft}
            label="Before the sheet before"
            disabled={!isAllowed || at <= 0}
            onClick={() => swap(-1)}
          />
          <IconButton
            icon={ArrowRight}
            label="Behind the next sheet"
            disabled={!isAllowed || at === sheets.length - 1}
            onClick={() => swap(1)}
          />
          <IconButton
            icon={Trash2}
            label={
              things === 0
                ? 'Delete this sheet'
                : `Delete this sheet with the ${things} things on it`
            }
            disabled={!isAllowed || sheets.length === 1}
            onClick={remove}
          />
        </div>
      </div>
    </PanelFold>
  );
}

/** A field of the title block: words of one’s own, or the value of an object that stands in it. */
function TitleFieldLine(props: {
  surface: PageSurface;
  objects: readonly Tether[];
  field: TitleField;
  value: string;
  isAllowed: boolean;
  onChange: (value: string) => void;
}) {
  const { surface, objects, field, value, isAllowed, onChange } = props;
  const tied = useSurface(
    surface,
    () =>
      surface
        .thingsHere()
        .flatMap((thing) =>
          thing.kind === 'object' && thing.field === field ? [thing.tetherId] : [],
        )[0] ?? null,
  );
  const values = useSurface(surface, () =>
    surface
      .thingsHere()
      .flatMap((thing) =>
        thing.kind === 'object' && thing.form === 'value' ? [thing.tetherId] : [],
      ),
  );
  const { most } = TITLE_FIELDS[field];
  const setTied = (tetherId: string) => {
    surface.pages.step(() => {
      for (const thing of surface.thingsHere()) {
        if (thing.kind !== 'object') continue;
        if (thing.tetherId === tetherId) surface.pages.change(thing.id, { field });
        else if (thing.field === field) surface.pages.change(thing.id, { field: null });
      }
    });
  };
  return (
    <div className="flex flex-col gap-1">
      {tied === null && (
        <LineField
          label={nameOf(field)}
          value={value}
          maxLength={200}
          isAllowed={isAllowed}
          note={
            most !== null && value.length > most
              ? `ISO 7200 recommends ${most} letters at most; it is set narrower.`
              : null
          }
          onChange={onChange}
        />
      )}
      {values.length > 0 && (
        <SelectField
          label={tied === null ? 'or the value' : nameOf(field)}
          value={tied ?? OWN_WORDS}
          options={[
            { value: OWN_WORDS, label: 'words of one’s own' },
            ...values.map((id) => ({
              value: id,
              label: objects.find((each) => each.id === id)?.name ?? 'an object',
            })),
          ]}
          disabled={!isAllowed}
          onChange={(next) => setTied(next === OWN_WORDS ? '' : next)}
        />
      )}
    </div>
  );
}

const OWN_WORDS = 'words';

function Layers({ surface, isAllowed }: { surface: PageSurface; isAllowed: boolean }) {
  const layers = useSurface(surface, () => surface.pages.layers());
  const add = () =>
    surface.pages.step(() =>
      surface.pages.addPart('layers', {
        ...{ id: crypto.randomUUID(), name: `Layer ${layers.length + 1}` },
        ...{ order: (layers.at(-1)?.order ?? 0) + 1 },
        ...{ isVisible: true, isLocked: false },
      }),
    );
  const change = (id: string, changes: Record<string, unknown>) =>
    surface.pages.step(() => surface.pages.changePart('layers', id, changes));
  return (
    <PanelFold title="Layers" note={layers.length === 0 ? 'one' : String(layers.length + 1)}>
      <ul className="flex flex-col gap-2 empty:hidden">
        {layers.map(({ id, name, isVisible, isLocked }) => (
          <li key={id} className="flex items-end gap-0.5">
            <div className="min-w-0 flex-1">
              <LineField
                label="Layer"
                value={name}
                maxLength={120}
                isAllowed={isAllowed}
                onChange={(next) => next.trim() !== '' && change(id, { name: next.trim() })}
              />
            </div>
            <IconButton
              icon={isVisible ? Eye : EyeOff}
              label={isVisible ? `Hide ${name}` : `Show ${name}`}
              className="size-7"
              disabled={!isAllowed}
              onClick={() => change(id, { isVisible: !isVisible })}
            />
            <IconButton
              icon={isLocked ? Lock : LockOpen}
              label={isLocked ? `Unlock ${name}` : `Lock ${name}`}
              className="size-7"
              disabled={!isAllowed}
              onClick={() => change(id, { isLocked: !isLocked })}
            />
            <IconButton
              icon={Trash2}
              label={`Delete ${name}; its things come onto the usual layer`}
              className="size-7"
              disabled={!isAllowed}
              onClick={() =>
                surface.pages.step(() => {
                  for (const thing of surface.pages.things()) {
                    if (thing.layer === id) surface.pages.change(thing.id, { layer: null });
                  }
                  surface.pages.removePart('layers', id);
                })
              }
            />
          </li>
        ))}
      </ul>
      {isAllowed && (
        <IconButton icon={Plus} label="Add a layer" className="mt-1 size-7" onClick={add} />
      )}
      <p className="mt-1 text-sm text-muted">What is hidden is not printed.</p>
    </PanelFold>
  );
}
