import { type Alignment, roundMm, type TurnedBox } from '@tether/core';
import { isInline, kindOfThing, type Layer, type ObjectThing, type Thing } from '@tether/documents';
import {
  AlignCenterHorizontal,
  AlignCenterVertical,
  AlignEndHorizontal,
  AlignEndVertical,
  AlignHorizontalDistributeCenter,
  AlignStartHorizontal,
  AlignStartVertical,
  AlignVerticalDistributeCenter,
  ArrowDownToLine,
  ArrowUpToLine,
  CopyPlus,
  Group,
  Lock,
  LockOpen,
  type LucideIcon,
  RotateCw,
  Trash2,
  Ungroup,
} from 'lucide-react';
import { useState } from 'react';
import { PanelFold } from '../../documents/PanelFold.tsx';
import { type Surface, useSurface } from '../../documents/surface.ts';
import { tethersApi } from '../../state/api.ts';
import { NumberField } from '../../ui/fields/NumberField.tsx';
import { SelectField } from '../../ui/fields/SelectField.tsx';
import { Tick } from '../../ui/fields/Tick.tsx';
import { IconButton } from '../../ui/IconButton.tsx';
import { Degrees, Millimetres } from '../fields/measure-fields.tsx';
import { MarksFold } from '../plan/MarksFields.tsx';
import { USUAL_LAYER } from '../surface/layers.ts';
import { PageSurface } from '../surface/page-surface.ts';
import { kindWords } from '../surface/thing-words.ts';
import { screenOf } from '../things/thing-screens.tsx';
import { CrowdingNotes } from './CrowdingNotes.tsx';

const FAR = 20_000;
const ALIGNMENTS: { how: Alignment; icon: LucideIcon; label: string }[] = [
  { how: 'left', icon: AlignStartVertical, label: 'Left edges in line' },
  { how: 'centre', icon: AlignCenterVertical, label: 'Middles in line, across' },
  { how: 'right', icon: AlignEndVertical, label: 'Right edges in line' },
  { how: 'top', icon: AlignStartHorizontal, label: 'Upper edges in line' },
  { how: 'middle', icon: AlignCenterHorizontal, label: 'Middles in line, down' },
  { how: 'bottom', icon: AlignEndHorizontal, label: 'Lower edges in line' },
];

/** Of a placed object: where it stands on its page. */
export function ObjectPlaceFold(props: {
  documentId: string;
  surface: Surface;
  tetherId: string;
  isAllowed: boolean;
}) {
  const { documentId, surface, tetherId, isAllowed } = props;
  if (!(surface instanceof PageSurface)) return null;
  return (
    <>
      <ObjectCrowding documentId={documentId} surface={surface} tetherId={tetherId} />
      <ObjectPlace surface={surface} tetherId={tetherId} isAllowed={isAllowed} />
      <MarksFold {...{ documentId, surface, tetherId, isAllowed }} />
    </>
  );
}

/** Where a placed object has no room on its page. */
function ObjectCrowding(props: { documentId: string; surface: PageSurface; tetherId: string }) {
  const { documentId, surface, tetherId } = props;
  const { data: objects = [] } = tethersApi.endpoints.tethers.useQueryState(documentId);
  const thing = useSurface(surface, () => surface.pages.objectThing(tetherId)?.id ?? null);
  return thing ? <CrowdingNotes surface={surface} objects={objects} of={thing} /> : null;
}

function ObjectPlace(props: { surface: PageSurface; tetherId: string; isAllowed: boolean }) {
  const { surface, tetherId, isAllowed } = props;
  const thing = useSurface(surface, () => surface.pages.objectThing(tetherId));
  if (!thing) return null;
  return (
    <PanelFold title="Where it stands">
      <PlaceFields surface={surface} things={[thing]} isAllowed={isAllowed} />
      <PartFields surface={surface} thing={thing} isAllowed={isAllowed} />
    </PanelFold>
  );
}

/** In the line of which text a value stands. */
function InTextField(props: { surface: PageSurface; thing: ObjectThing; isAllowed: boolean }) {
  const { surface, thing, isAllowed } = props;
  const texts = useSurface(surface, () =>
    surface.shown.thingsHere().flatMap((each) => (each.kind === 'text' ? [each] : [])),
  );
  if (texts.length === 0) return null;
  return (
    <SelectField
      label="In the line of"
      value={surface.texts.textOf(thing)?.id ?? NO_LAYER}
      options={[
        { value: NO_LAYER, label: 'no text: a place of its own' },
        ...texts.map((each) => ({
          value: each.id,
          label: `“${each.text.trim().split('\n').at(-1)?.slice(0, 40) || 'an empty text'}”`,
        })),
      ]}
      disabled={!isAllowed}
      onChange={(text) => surface.texts.putInText(thing.tetherId, text === NO_LAYER ? null : text)}
    />
  );
}

/** Where the parts of a folded table stand. */
function PartFields(props: { surface: PageSurface; thing: ObjectThing; isAllowed: boolean }) {
  const { surface, thing, isAllowed } = props;
  const { id } = thing;
  const parts = useSurface(surface, () => surface.boxes.partsOf(id));
  const isFree = isAllowed && surface.shown.isFree(thing);
  return parts.map(({ place }, nth) => {
    if (nth === 0) return null;
    const name = `Part ${nth + 1}`;
    return (
      <fieldset key={nth} className="mt-2 flex flex-col gap-1.5 border-t border-hairline pt-2">
        <legend className="sr-only">{name}</legend>
        <Tick
          isOn={place !== null}
          isDisabled={!isFree}
          onChange={(isOn) =>
            surface.steps.pullPart(
              id,
              nth,
              isOn ? { x: 0, y: roundMm(parts[0]!.size.height + GAP_TO_PART) } : null,
            )
          }
        >
          {name} at a place of its own
        </Tick>
        {place && (
          <>
            <Millimetres
              label={`${name} across`}
              value={place.x}
              isAllowed={isFree}
              onChange={(x) => surface.steps.pullPart(id, nth, { ...place, x })}
            />
            <Millimetres
              label={`${name} down`}
              value={place.y}
              isAllowed={isFree}
              onChange={(y) => surface.steps.pullPart(id, nth, { ...place, y })}
            />
            <p className="text-sm text-muted">From the upper left corner of the first part.</p>
          </>
        )}
      </fieldset>
    );
  });
}

/** Millimetres between the first part and one that is given a place of its own. */
const GAP_TO_PART = 5;

/** What is chosen on the page and is no single object: what it is, and where it stands. */
export function ChosenThings({ surface, isAllowed }: { surface: PageSurface; isAllowed: boolean }) {
  const things = useSurface(surface, () => surface.shown.chosenThings());
  const [only, ...more] = things;
  if (!only) return null;
  const { Fields } = screenOf(only);
  return (
    <section aria-label="What is chosen" className="border-b border-hairline p-4">
      <h3 className="mb-2 text-[15px] font-semibold">
        {more.length === 0 ? kindWords(only) : `${things.length} things`}
      </h3>
      {more.length === 0 && (
        <div className="mb-3">
          {Fields && (
            <Fields
              surface={surface}
              thing={only}
              isAllowed={isAllowed && surface.shown.isFree(only)}
            />
          )}
        </div>
      )}
      <PlaceFields surface={surface} things={things} isAllowed={isAllowed} />
    </section>
  );
}

function PlaceFields(props: {
  surface: PageSurface;
  things: readonly Thing[];
  isAllowed: boolean;
}) {
  const { surface, things, isAllowed } = props;
  const places = useSurface(surface, () =>
    things.map(
      ({ id }) => surface.boxes.all().get(id) ?? { x: 0, y: 0, width: 0, height: 0, turn: 0 },
    ),
  );
  const layers = useSurface(surface, () => surface.pages.layers());
  const [thing, ...more] = things;
  const [place] = places;
  if (!thing || !place) return null;
  const isFree = isAllowed && things.some((each) => surface.shown.isFree(each));
  const isOne = more.length === 0;
  const isInLine = surface.texts.textOf(thing) !== null;
  return (
    <div className="flex flex-col gap-2">
      {isOne && thing.kind === 'object' && isInline(thing.form) && (
        <InTextField surface={surface} thing={thing} isAllowed={isFree} />
      )}
      {isOne && !isInLine && (
        <OwnPlace surface={surface} thing={thing} place={place} isFree={isFree} />
      )}
      {layers.length > 0 && (
        <SelectField
          label="Layer"
          value={thing.layer ?? NO_LAYER}
          options={[
            { value: NO_LAYER, label: USUAL_LAYER },
            ...layers.map(({ id, name }: Layer) => ({ value: id, label: name })),
          ]}
          disabled={!isFree}
          onChange={(layer) =>
            surface.steps.changeChosen(() => ({ layer: layer === NO_LAYER ? null : layer }))
          }
        />
      )}
      <AlignButtons surface={surface} count={things.length} isFree={isFree} />
      <ThingButtons surface={surface} things={things} isFree={isFree} isAllowed={isAllowed} />
    </div>
  );
}

/** Where one thing stands, how much room it has, and how it is turned. */
function OwnPlace(props: {
  surface: PageSurface;
  thing: Thing;
  place: TurnedBox;
  isFree: boolean;
}) {
  const { surface, thing, place, isFree } = props;
  const isObject = thing.kind === 'object';
  const { extent } = kindOfThing(thing);
  const hasBox = extent === 'box' || extent === 'content';
  return (
    <>
      <Millimetres
        label="Across"
        value={place.x}
        isAllowed={isFree}
        onChange={(x) => surface.steps.moveChosen({ x: x - place.x, y: 0 })}
      />
      <Millimetres
        label="Down"
        value={place.y}
        isAllowed={isFree}
        onChange={(y) => surface.steps.moveChosen({ x: 0, y: y - place.y })}
      />
      {hasBox && (
        <>
          <NumberField
            label={isObject ? 'Room across' : 'Width'}
            value={isObject ? thing.width : roundMm(place.width)}
            unit="mm"
            min={1}
            max={FAR}
            isExact
            {...(isObject ? { placeholder: 'to the frame' } : {})}
            disabled={!isFree}
            onChange={(width) => {
              if (isObject || width !== null) surface.steps.changeChosen(() => ({ width }));
            }}
          />
          <NumberField
            label={isObject ? 'Room down' : 'Height'}
            value={isObject ? thing.height : roundMm(place.height)}
            unit="mm"
            min={1}
            max={FAR}
            isExact
            {...(isObject ? { placeholder: 'to the frame' } : {})}
            disabled={!isFree}
            onChange={(height) => {
              if (isObject || height !== null) surface.steps.changeChosen(() => ({ height }));
            }}
          />
        </>
      )}
      <Degrees
        label="Turned by"
        value={thing.turn}
        isAllowed={isFree}
        onChange={(turn) => surface.steps.changeChosen(() => ({ turn }))}
      />
      {isObject && isInline(thing.form) && (
        <NumberField
          label="Letters"
          value={thing.letters}
          unit="mm"
          min={1}
          max={60}
          placeholder="as in a text"
          disabled={!isFree}
          onChange={(letters) => surface.steps.changeChosen(() => ({ letters }))}
        />
      )}
      {isObject && (
        <p className="text-sm text-muted">
          It comes out {roundMm(place.width)} × {roundMm(place.height)} mm. A table that is too high
          for its room stands in parts side by side.
        </p>
      )}
    </>
  );
}

/** Sets things in line with each other or with the frame, and with equal gaps. */
function AlignButtons(props: { surface: PageSurface; count: number; isFree: boolean }) {
  const { surface, count, isFree } = props;
  const [isToFrame, setToFrame] = useState(false);
  const isOne = count === 1;
  return (
    <>
      <div className="flex flex-wrap gap-0.5">
        {ALIGNMENTS.map(({ how, icon, label }) => (
          <IconButton
            className="size-7"
            key={how}
            icon={icon}
            label={label}
            disabled={!isFree}
            onClick={() => surface.steps.align(how, isToFrame || isOne)}
          />
        ))}
        <IconButton
          className="size-7"
          icon={AlignHorizontalDistributeCenter}
          label="Equal gaps across"
          disabled={!isFree || count < 3}
          onClick={() => surface.steps.distribute('across')}
        />
        <IconButton
          className="size-7"
          icon={AlignVerticalDistributeCenter}
          label="Equal gaps down"
          disabled={!isFree || count < 3}
          onClick={() => surface.steps.distribute('down')}
        />
      </div>
      {!isOne && (
        <Tick isOn={isToFrame} onChange={setToFrame}>
          In line with the frame
        </Tick>
      )}
    </>
  );
}

/** What is done to what is chosen as a whole. */
function ThingButtons(props: {
  surface: PageSurface;
  things: readonly Thing[];
  isFree: boolean;
  isAllowed: boolean;
}) {
  const { surface, things, isFree, isAllowed } = props;
  const { steps } = surface;
  const isAllLocked = things.every(({ isLocked }) => isLocked);
  const isGrouped = things.some(({ group }) => group !== null);
  const buttons = [
    {
      icon: ArrowUpToLine,
      label: 'To the front',
      isOn: isFree,
      act: () => steps.restack('to front'),
    },
    {
      icon: ArrowDownToLine,
      label: 'To the back',
      isOn: isFree,
      act: () => steps.restack('to back'),
    },
    {
      ...{ icon: RotateCw, label: 'Turn by 90°', isOn: isFree },
      act: () => steps.changeChosen((each) => ({ turn: (each.turn + 90) % 360 })),
    },
    { icon: CopyPlus, label: 'Duplicate', isOn: isAllowed, act: () => steps.duplicate() },
    { icon: Group, label: 'Group', isOn: isFree && things.length > 1, act: () => steps.group() },
    {
      ...{ icon: Ungroup, label: 'Take the group apart', isOn: isFree && isGrouped },
      act: () => steps.ungroup(),
    },
    {
      ...{ icon: isAllLocked ? LockOpen : Lock, label: isAllLocked ? 'Unlock' : 'Lock' },
      ...{ isOn: isAllowed, act: () => steps.lock(!isAllLocked) },
    },
    { icon: Trash2, label: 'Delete', isOn: isFree, act: () => steps.removeChosen() },
  ];
  return (
    <div className="flex flex-wrap gap-0.5">
      {buttons.map(({ icon, label, isOn, act }) => (
        <IconButton
          className="size-7"
          key={label}
          icon={icon}
          label={label}
          disabled={!isOn}
          onClick={act}
        />
      ))}
    </div>
  );
}

const NO_LAYER = 'none';
