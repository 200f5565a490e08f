import type { Tether } from '@tether/contract';
import { A_SERIES, DRAWING_SIZES } from '@tether/core';
import { TITLE_FIELDS, type TitleField } from '@tether/documents';
import { ArrowLeft, ArrowRight, Link2, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { LookOfTables } from '../documents/LookOfTables.tsx';
import { PanelFold } from '../documents/PanelFold.tsx';
import { type Surface, useSurface } from '../documents/surface.ts';
import { CrowdingNotes } from '../page/panel/CrowdingNotes.tsx';
import { OutlineFold } from '../page/panel/Outline.tsx';
import { ChosenThings } from '../page/panel/ThingFields.tsx';
import { PageSurface } from '../page/surface/page-surface.ts';
import { ChoiceField } from '../ui/fields/ChoiceField.tsx';
import { LineField } from '../ui/fields/LineField.tsx';
import { NumberField } from '../ui/fields/NumberField.tsx';
import { SelectField } from '../ui/fields/SelectField.tsx';
import { IconButton } from '../ui/IconButton.tsx';
import { settingsOf, sheetOf } from './drawing-kind.ts';
import { Layers } from './Layers.tsx';
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
  return (
    <>
      <h2 className="sr-only">On the sheet</h2>
      <ChosenThings surface={surface} isAllowed={isAllowed} />
      <CrowdingNotes surface={surface} objects={objects} />
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
              onChange={(value) => set(`fields.${field}`, value === '' ? undefined : value)}
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
  const sheet = useSurface(surface, () => sheetOf(surface.shown.page()));
  const things = useSurface(surface, () => surface.shown.thingsHere().length);
  const at = sheets.findIndex(({ id }) => id === sheet.id);
  const change = (changes: Record<string, unknown>) =>
    surface.pages.step(() => surface.pages.changePart('pages', sheet.id, changes));
  const move = (to: number) => surface.pages.step(() => surface.pages.movePage(sheet.id, to));
  const remove = () => {
    const next = sheets[at + 1] ?? sheets[at - 1];
    if (!next) return;
    const here = surface.shown.thingsHere();
    surface.shown.showPage(next.id);
    surface.pages.step(() => {
      for (const { id } of here) surface.pages.remove(id);
      surface.pages.removePart('pages', sheet.id);
    });
  };
  return (
    <PanelFold title="Sheet" note={`${sheet.size} ${sheet.isLandscape ? 'landscape' : 'portrait'}`}>
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
          value={sheet.isLandscape ? 'landscape' : 'portrait'}
          options={[
            { value: 'portrait', label: 'portrait' },
            { value: 'landscape', label: 'landscape' },
          ]}
          disabled={!isAllowed}
          onChange={(way) => change({ isLandscape: way === 'landscape' })}
        />
        <div className="flex gap-0.5">
          <IconButton
            icon={ArrowLeft}
            label="One place earlier"
            disabled={!isAllowed || at <= 0}
            onClick={() => move(at - 1)}
          />
          <IconButton
            icon={ArrowRight}
            label="One place later"
            disabled={!isAllowed || at === sheets.length - 1}
            onClick={() => move(at + 1)}
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
      surface.shown
        .thingsHere()
        .flatMap((thing) =>
          thing.kind === 'object' && thing.field === field ? [thing.tetherId] : [],
        )[0] ?? null,
  );
  const values = useSurface(surface, () =>
    surface.shown
      .thingsHere()
      .flatMap((thing) =>
        thing.kind === 'object' && thing.form === 'value' ? [thing.tetherId] : [],
      ),
  );
  const { most } = TITLE_FIELDS[field];
  const [isAsked, setAsked] = useState(false);
  const setTied = (tetherId: string) => {
    surface.pages.step(() => {
      for (const thing of surface.shown.thingsHere()) {
        if (thing.kind !== 'object') continue;
        if (thing.tetherId === tetherId) surface.pages.change(thing.id, { field });
        else if (thing.field === field) surface.pages.change(thing.id, { field: null });
      }
    });
  };
  const name = nameOf(field);
  const isChoosing = tied !== null || isAsked;
  return (
    <div className="flex items-end gap-0.5">
      {!isChoosing && (
        <div className="min-w-0 flex-1">
          <LineField
            label={name}
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
        </div>
      )}
      {!isChoosing && values.length > 0 && (
        <IconButton
          icon={Link2}
          label={`Let “${name}” show a value`}
          className="size-7"
          disabled={!isAllowed}
          onClick={() => setAsked(true)}
        />
      )}
      {isChoosing && (
        <div className="min-w-0 flex-1">
          <SelectField
            label={name}
            value={tied ?? OWN_WORDS}
            options={[
              { value: OWN_WORDS, label: 'words of one’s own' },
              ...values.map((id) => ({
                value: id,
                label: objects.find((each) => each.id === id)?.name ?? 'an object',
              })),
            ]}
            disabled={!isAllowed}
            onChange={(next) => {
              setAsked(false);
              setTied(next === OWN_WORDS ? '' : next);
            }}
          />
        </div>
      )}
    </div>
  );
}

const OWN_WORDS = 'words';
