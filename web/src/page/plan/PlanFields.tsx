import {
  type Fault,
  isRecommended,
  RECOMMENDED_SCALES,
  readScale,
  scaleToFit,
  writeScale,
} from '@tether/core';
import type { ViewThing } from '@tether/documents';
import { useEffect, useState } from 'react';
import { useSurface } from '../../documents/surface.ts';
import { usePictureLayersQuery } from '../../state/api.ts';
import { Button } from '../../ui/Button.tsx';
import { TextField } from '../../ui/fields/TextField.tsx';
import { Tick } from '../../ui/fields/Tick.tsx';
import { Degrees, Metres } from '../fields/measure-fields.tsx';
import type { PageSurface } from '../surface/page-surface.ts';
import { lengthWithUnit, planSize } from './PlanView.tsx';
import { setTrueWidth } from './plans.ts';

/** How a plan is seen through a view: its scale, which part of it, and how large it is in truth. */
export function PlanFields(props: { surface: PageSurface; thing: ViewThing; isAllowed: boolean }) {
  const { surface, thing, isAllowed } = props;
  const set = (change: Record<string, unknown>) => surface.steps.changeChosen(() => change);
  const size = planSize(thing);
  return (
    <div className="flex flex-col gap-2">
      <ScaleField thing={thing} isAllowed={isAllowed} onChange={(scale) => set({ scale })} />
      <div className="flex flex-wrap gap-2">
        <Button
          disabled={!isAllowed}
          onClick={() =>
            set({
              scale: scaleToFit(size, thing),
              centre: { x: size.width / 2, y: size.height / 2 },
              planTurn: 0,
            })
          }
        >
          Show all of the plan
        </Button>
      </div>
      <Metres
        label="Middle across"
        value={thing.centre.x}
        isAllowed={isAllowed}
        onChange={(x) => set({ centre: { ...thing.centre, x } })}
      />
      <Metres
        label="Middle down"
        value={thing.centre.y}
        isAllowed={isAllowed}
        onChange={(y) => set({ centre: { ...thing.centre, y } })}
      />
      <Degrees
        label="Plan turned by"
        value={thing.planTurn}
        isAllowed={isAllowed}
        onChange={(planTurn) => set({ planTurn })}
      />
      <TrueSize surface={surface} thing={thing} isAllowed={isAllowed} />
      <Tick isOn={thing.hasBar} isDisabled={!isAllowed} onChange={(hasBar) => set({ hasBar })}>
        With a scale bar
      </Tick>
      <Tick
        isOn={thing.north !== null}
        isDisabled={!isAllowed}
        onChange={(isOn) => set({ north: isOn ? 0 : null })}
      >
        With a north arrow
      </Tick>
      {thing.north !== null && (
        <Degrees
          label="North at"
          value={thing.north}
          isAllowed={isAllowed}
          onChange={(north) => set({ north })}
        />
      )}
      <Tick isOn={thing.isGrey} isDisabled={!isAllowed} onChange={(isGrey) => set({ isGrey })}>
        In shades of grey
      </Tick>
      <PlanLayers thing={thing} isAllowed={isAllowed} onChange={(without) => set({ without })} />
      <TextField
        label="What it shows, for people who cannot see it"
        value={thing.alt}
        maxLength={2000}
        disabled={!isAllowed}
        onChange={(alt) => set({ alt })}
      />
    </div>
  );
}

/** Which layers of the plan’s own file are shown; nothing of a file that has none. */
function PlanLayers(props: {
  thing: ViewThing;
  isAllowed: boolean;
  onChange: (without: string[]) => void;
}) {
  const { thing, isAllowed, onChange } = props;
  const { data: layers = [] } = usePictureLayersQuery(thing.hash);
  if (layers.length === 0) return null;
  return (
    <fieldset className="flex flex-col gap-1">
      <legend className="mb-1 text-sm font-semibold text-muted">Shown of the plan</legend>
      {layers.map(({ key, name }) => (
        <Tick
          key={key}
          isOn={!thing.without.includes(key)}
          isDisabled={!isAllowed}
          onChange={(isOn) =>
            onChange(
              isOn ? thing.without.filter((each) => each !== key) : [...thing.without, key].sort(),
            )
          }
        >
          {name}
        </Tick>
      ))}
    </fieldset>
  );
}

/** The scale as it is written on drawings; one that the standard does not recommend is said as such. */
function ScaleField(props: {
  thing: ViewThing;
  isAllowed: boolean;
  onChange: (scale: number) => void;
}) {
  const { thing, isAllowed, onChange } = props;
  const written = writeScale(thing.scale);
  const [text, setText] = useState(written);
  const [fault, setFault] = useState<Fault | null>(null);
  useEffect(() => {
    setText(written);
    setFault(null);
  }, [written]);
  const finish = () => {
    if (text === written) return;
    const read = readScale(text);
    if (read.ok) onChange(read.value);
    setFault(read.ok ? null : read.fault);
  };
  return (
    <>
      <TextField
        label="Scale"
        value={text}
        list="recommended-scales"
        disabled={!isAllowed}
        onChange={setText}
        onBlur={finish}
        onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
        fault={fault}
      />
      <datalist id="recommended-scales">
        {RECOMMENDED_SCALES.map((each) => (
          <option key={each} value={each} />
        ))}
      </datalist>
      {!isRecommended(thing.scale) && (
        <p className="text-sm text-behind">
          {written} is none of the scales that ISO 5455 recommends.
        </p>
      )}
    </>
  );
}

/** How large the plan is in truth: as its file says, or by a length that is known. */
function TrueSize(props: { surface: PageSurface; thing: ViewThing; isAllowed: boolean }) {
  const { surface, thing, isAllowed } = props;
  const size = planSize(thing);
  const dimensions = useSurface(surface, () =>
    surface.shown
      .thingsHere()
      .flatMap((each) =>
        each.kind === 'dimension' && each.view === thing.id
          ? [{ id: each.id, length: Math.hypot(each.to.x, each.to.y) / thing.scale }]
          : [],
      ),
  );
  const known = dimensions.at(-1);
  return (
    <>
      <Metres
        label="Plan is wide"
        value={size.width}
        isAllowed={isAllowed}
        isLength
        onChange={(width) => setTrueWidth(surface, thing, width)}
      />
      {!thing.isSized && (
        <p className="text-sm text-behind">
          Its file does not say how large it is in truth: this is a guess, and so is every length in
          it.
        </p>
      )}
      <p className="text-sm text-muted">
        In truth {lengthWithUnit(Math.round(size.width))} ×{' '}
        {lengthWithUnit(Math.round(size.height))}
        {thing.isSized ? ': as its file says, unless set here.' : '.'}
      </p>
      {known ? (
        <Metres
          label="Last dimension is"
          value={known.length}
          isAllowed={isAllowed}
          isLength
          onChange={(length) =>
            setTrueWidth(surface, thing, (thing.trueWidth * length) / known.length)
          }
        />
      ) : (
        <p className="text-sm text-muted">
          Draw a dimension over a length that you know, and say here how long it is in truth.
        </p>
      )}
    </>
  );
}
