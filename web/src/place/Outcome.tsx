import type { SourceContents, Tether } from '@tether/contract';
import {
  type Area,
  type Fault,
  formatReference,
  type Reach,
  type Snapshot,
  suggestName,
} from '@tether/core';
import type { Form } from '@tether/documents';
import { deepEqual } from 'fast-equals';
import { useEffect, useRef, useState } from 'react';
import type { Anchor, LayerOffer, StandOffer } from '../documents/surface.ts';
import {
  faultOf,
  useChangeTetherMutation,
  usePlaceMutation,
  useTethersQuery,
} from '../state/api.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { SelectField } from '../ui/fields/SelectField.tsx';
import { TextField } from '../ui/fields/TextField.tsx';
import { Tick } from '../ui/fields/Tick.tsx';
import { Charts, FormChoice, Names, ReachKinds } from './DraftFields.tsx';
import { HeaderChoice, Headers } from './HeaderFields.tsx';
import { Preview } from './Preview.tsx';
import type { ReachDraft } from './reach-draft.ts';
import { TakenWarnings } from './TakenWarnings.tsx';
import { useTaking } from './useTaking.ts';

interface Props {
  sourceId: string;
  contents: SourceContents;
  documentId: string;
  changing: Tether | null;
  draft: ReachDraft;
  onChange: (part: Partial<ReachDraft>) => void;
  /** What is being typed as a range, or null while it is taken from the sheet. */
  typed: string | null;
  onType: (text: string) => void;
  referenceFault: Fault | null;
  /** Where a new object can be told to stand, the usual place first; none where the document has only one place. */
  stands: readonly StandOffer[];
  /** Layers that it can be put onto, first the one it comes onto by itself; none where there is no choice. */
  layers: readonly LayerOffer[];
  onPlaced: (tether: Tether, at?: Anchor, layer?: string | null) => void;
  /** Told which cells are taken now, and null while that is not known. */
  onTaken: (cells: { sheet: string; area: Area } | null) => void;
}

/** At the right of Place: what is taken and how it follows growth, what comes of it, and the button. */
export function Outcome(props: Props) {
  const { sourceId, contents, changing, draft, onChange, onTaken } = props;
  // The places themselves: those that are offered may be others by the time the object stands.
  const [stand, setStand] = useState<StandOffer | null>(null);
  const [layer, setLayer] = useState<LayerOffer | null>(null);
  const [ownName, setOwnName] = useState<string | null>(null);
  const [chosenForm, setForm] = useState<Form | null>(null);
  const form = chosenForm ?? (draft.kind === 'chart' ? 'chart' : 'table');
  const taking = useTaking(sourceId, contents.hash, draft, props.referenceFault !== null);
  const { reach, settled, taken, tooLarge, isCurrent, isRefused } = taking;
  useEffect(() => {
    onTaken(taken ? { sheet: taken.snapshot.sheet, area: taken.area } : null);
  }, [onTaken, taken]);
  const name = ownName ?? (taken && settled ? nameFor(settled, taken.snapshot) : '');
  const isNamed = changing !== null || (ownName === null && !isCurrent) || name.trim() !== '';
  const { press, isBusy, error } = useFinishing(props, taking, {
    name,
    isNamed,
    form,
    stand,
    layer,
  });
  return (
    <form
      className="flex w-[344px] shrink-0 flex-col gap-3 overflow-auto border-l border-hairline bg-white px-4 pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        press();
      }}
    >
      <WhatIsTaken {...props} fault={props.referenceFault ?? tooLarge} />
      {!changing && (
        <>
          <TextField
            label="Name"
            value={name}
            isSuggested={ownName === null}
            onChange={setOwnName}
            maxLength={120}
            placeholder="suggested from the header"
          />
          <FormChoice form={form} onChange={setForm} />
          <StandChoice {...props} {...{ stand, layer }} onStand={setStand} onLayer={setLayer} />
        </>
      )}
      <div>
        <Preview taking={taking} form={changing ? null : form} draft={draft} />
        {taken && !['chart', 'value', 'tag'].includes(form) && (
          <HeaderChoice snapshot={taken.snapshot} draft={draft} onChange={onChange} />
        )}
        {taken && <TakenWarnings taken={taken} draft={draft} onChange={onChange} />}
      </div>
      {(taken?.warnings.some(({ code }) => code.startsWith('hidden')) || draft.withHidden) && (
        <Tick isOn={draft.withHidden} onChange={(withHidden) => onChange({ withHidden })}>
          Take hidden rows and columns too
        </Tick>
      )}
      {error && <FaultNote fault={faultOf(error)} />}
      <div className="sticky bottom-0 z-10 mt-auto border-t border-hairline bg-white py-3">
        <Button
          className="w-full"
          type="submit"
          kind="primary"
          aria-busy={isBusy}
          disabled={!reach || isRefused || tooLarge !== null || isBusy || !isNamed}
        >
          {changing ? 'Take this instead' : 'Place it'}
        </Button>
      </div>
    </form>
  );
}

/**
 * Places the object, or lets it take something else. A press is not lost while that which it means is still being read; it is
 * given up when something else is chosen.
 */
function useFinishing(
  { changing, documentId, sourceId, onPlaced }: Props,
  { reach, key, isCurrent, isRefused }: ReturnType<typeof useTaking>,
  wish: {
    name: string;
    isNamed: boolean;
    form: Form;
    stand: StandOffer | null;
    layer: LayerOffer | null;
  },
) {
  /** The reach for which the button was pressed. */
  const [pressed, setPressed] = useState<string | null>(null);
  const [place, placing] = usePlaceMutation();
  const [changeTether, changingState] = useChangeTetherMutation();
  const finish = async () => {
    if (!reach || !wish.isNamed) return;
    const result = changing
      ? await changeTether({ id: changing.id, documentId, reach })
      : await place({ documentId, sourceId, reach, name: wish.name.trim(), form: wish.form });
    // What nobody chose is where the document puts it by itself.
    if (!result.error) onPlaced(result.data, wish.stand?.at, wish.layer?.id);
  };
  const finishNow = useRef(finish);
  finishNow.current = finish;
  useEffect(() => {
    if (pressed === null || (pressed === key && !isCurrent && !isRefused)) return;
    setPressed(null);
    if (isCurrent && pressed === key) void finishNow.current();
  }, [pressed, key, isCurrent, isRefused]);
  return {
    press: () => setPressed(key),
    isBusy: pressed !== null || placing.isLoading || changingState.isLoading,
    error: placing.error ?? changingState.error,
  };
}

/** What is taken of the source, and how it follows growth. */
function WhatIsTaken(props: Props & { fault: Fault | null }) {
  const { sourceId, contents, draft, onChange, typed, onType, fault } = props;
  const reference =
    typed ?? (draft.area ? formatReference({ sheet: draft.sheet, area: draft.area }) : '');
  const fields = { contents, draft, onChange };
  return (
    <>
      <ReachKinds draft={draft} onChange={onChange} />
      {draft.kind === 'name' ? (
        <Names {...fields} />
      ) : draft.kind === 'chart' ? (
        <Charts {...fields} />
      ) : draft.kind === 'whole sheet' ? null : (
        <TextField
          label={draft.kind === 'block' ? 'Cells' : 'Cells with the header row'}
          isAddress
          value={reference}
          onChange={onType}
          placeholder="drag over cells, or type B2:F14"
          fault={fault}
          spellCheck={false}
        />
      )}
      {draft.kind === 'picked columns' && draft.area && <Headers sourceId={sourceId} {...fields} />}
    </>
  );
}

/** Where a new object is to stand, and on which layer, where there is a choice. */
function StandChoice(
  props: Props & {
    stand: StandOffer | null;
    layer: LayerOffer | null;
    onStand: (stand: StandOffer | null) => void;
    onLayer: (layer: LayerOffer | null) => void;
  },
) {
  const { documentId, stands, layers, stand, layer, onStand, onLayer } = props;
  const { data: tethers = [] } = useTethersQuery(documentId);
  return (
    <>
      {stands.length > 0 && (
        <SelectField
          label="Stands"
          value={indexOf(stands, stand)}
          options={stands.map(({ words, beside }, at) => {
            const name = tethers.find(({ id }) => id === beside)?.name;
            return { value: String(at), label: name ? `${words} “${name}”` : words };
          })}
          onChange={(at) => onStand(stands[Number(at)] ?? null)}
        />
      )}
      {layers.length > 0 && (
        <SelectField
          label="Layer"
          value={indexOf(layers, layer)}
          options={layers.map(({ words }, at) => ({ value: String(at), label: words }))}
          onChange={(at) => onLayer(layers[Number(at)] ?? null)}
        />
      )}
    </>
  );
}

/** Where what was chosen stands among what is offered now: the first of it while nothing was. */
function indexOf<Offer>(offers: readonly Offer[], chosen: Offer | null): string {
  return String(
    Math.max(
      0,
      offers.findIndex((offer) => deepEqual(offer, chosen)),
    ),
  );
}

function nameFor(reach: Reach, snapshot: Snapshot): string {
  if (reach.kind === 'chart' && snapshot.chart) return snapshot.chart.name;
  return reach.kind === 'name' ? reach.name : suggestName(snapshot);
}
