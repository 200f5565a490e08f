import { headersOf, type MarkNote, marksOnOnePlace, suggestMarks } from '@tether/core';
import { MARK_SYMBOLS, type MarksThing, thingSchema, type ViewThing } from '@tether/documents';
import { PanelFold } from '../../documents/PanelFold.tsx';
import { useSurface } from '../../documents/surface.ts';
import { useSnapshotQuery } from '../../state/api.ts';
import { usePlacedTether } from '../../state/usePlacedTether.ts';
import { Button } from '../../ui/Button.tsx';
import { NumberField } from '../../ui/fields/NumberField.tsx';
import { SelectField } from '../../ui/fields/SelectField.tsx';
import { Tick } from '../../ui/fields/Tick.tsx';
import { ColourField } from '../fields/ColourField.tsx';
import type { PageSurface } from '../surface/page-surface.ts';
import { useRowMarks } from './MarksOnPlan.tsx';
import { planSize } from './PlanView.tsx';
import { lineInPlan } from './plans.ts';

/** Of a placed object: its rows as marks in the plans of its page. */
export function MarksFold(props: {
  documentId: string;
  surface: PageSurface;
  tetherId: string;
  isAllowed: boolean;
}) {
  const { documentId, surface, tetherId, isAllowed } = props;
  const views = useSurface(surface, () =>
    surface.shown.thingsHere().filter((thing): thing is ViewThing => thing.kind === 'view'),
  );
  const all = useSurface(surface, () =>
    surface.shown
      .thingsHere()
      .filter((thing): thing is MarksThing => thing.kind === 'marks' && thing.of === tetherId),
  );
  const tether = usePlacedTether(documentId, { tetherId });
  const { data: snapshot } = useSnapshotQuery(tether?.shown ?? '', { skip: !tether });
  if (!snapshot || !surface.kind.hasPlans) return null;
  const add = (view: ViewThing) => {
    const { key, labels, chainage, x, y, unit } = suggestMarks(snapshot);
    const { width, height } = planSize(view);
    // As long as nobody said otherwise chainages go along the middle of the plan.
    const line = [
      { x: 0, y: height / 2 },
      { x: width, y: height / 2 },
    ];
    const from =
      chainage !== null
        ? { kind: 'along', line, chainage, offset: null, unit }
        : x !== null && y !== null
          ? { kind: 'coordinates', x, y, unit }
          : { kind: 'hand' };
    const marks = { kind: 'marks', x: 0, y: 0, of: tetherId, view: view.id, key, labels, from };
    surface.pages.step(() =>
      surface.pages.add(thingSchema.parse({ ...surface.shown.fresh(), ...marks })),
    );
  };
  return (
    <PanelFold title="Its rows as marks" note={all.length === 0 ? 'none' : null}>
      {views.length === 0 && (
        <p className="text-muted">Put a plan on this page first, by “Plan …” on the rail.</p>
      )}
      {all.map((thing) => (
        <MarksOf
          key={thing.id}
          {...{ documentId, surface, thing, isAllowed }}
          headers={headersOf(snapshot).filter((header) => header !== '')}
          view={views.find(({ id }) => id === thing.view) ?? null}
        />
      ))}
      {views
        .filter(({ id }) => !all.some(({ view }) => view === id))
        .map((view, at) => (
          <Button key={view.id} className="mt-1" disabled={!isAllowed} onClick={() => add(view)}>
            Mark its rows in {view.alt || `the plan${views.length > 1 ? ` ${at + 1}` : ''}`}
          </Button>
        ))}
    </PanelFold>
  );
}

const NONE = '';

/** What the fields of some marks need: the marks, and how a column is chosen for them. */
interface MarkFields {
  surface: PageSurface;
  thing: MarksThing;
  view: ViewThing | null;
  headers: readonly string[];
  isAllowed: boolean;
}

function useMarkFields({ surface, thing, headers, isAllowed }: MarkFields) {
  const set = (change: Record<string, unknown>) =>
    surface.pages.step(() => surface.pages.change(thing.id, change));
  const options = (own: string) =>
    [...new Set([...headers, own])].map((header) => ({ value: header, label: header || '–' }));
  const column = (label: string, value: string, onChange: (next: string) => void) => (
    <SelectField
      label={label}
      value={value}
      options={options(value)}
      disabled={!isAllowed}
      onChange={onChange}
    />
  );
  return { set, options, column };
}

function MarksOf(props: MarkFields & { documentId: string }) {
  const { documentId, surface, thing, view, isAllowed } = props;
  const { set, column } = useMarkFields(props);
  return (
    <section
      aria-label={`Marks in ${view?.alt || 'a plan'}`}
      className="mb-3 flex flex-col gap-2 border-b border-hairline pb-3"
    >
      <h4 className="font-semibold">{view?.alt || 'In a plan'}</h4>
      {column('Named by', thing.key, (key) => set({ key }))}
      <LabelFields {...props} />
      <StandFields {...props} />
      <SymbolFields {...props} />
      <MarkNotes {...{ documentId, surface, thing, view, isAllowed }} />
      <Button
        disabled={!isAllowed}
        onClick={() => surface.pages.step(() => surface.pages.remove(thing.id))}
      >
        Take these marks out
      </Button>
    </section>
  );
}

/** Which columns are written at the marks. */
function LabelFields(props: MarkFields) {
  const { thing, headers, isAllowed } = props;
  const { set } = useMarkFields(props);
  return (
    <fieldset className="flex flex-col gap-1">
      <legend className="text-sm font-semibold text-muted">Labels show</legend>
      {[...new Set([...headers, ...thing.labels])].map((header) => (
        <Tick
          key={header}
          isOn={thing.labels.includes(header)}
          isDisabled={!isAllowed}
          onChange={(isOn) =>
            set({
              labels: isOn
                ? [...thing.labels, header]
                : thing.labels.filter((each) => each !== header),
            })
          }
        >
          {header}
        </Tick>
      ))}
    </fieldset>
  );
}

/** Where the marks stand in the plan: along a line, by coordinates, or by hand. */
function StandFields(props: MarkFields) {
  const { surface, thing, view, headers, isAllowed } = props;
  const { from } = thing;
  const { set, options, column } = useMarkFields(props);
  const lines = useSurface(surface, () =>
    surface.shown.thingsHere().flatMap((each) => (each.kind === 'line' ? [each] : [])),
  );
  const setKind = (kind: typeof from.kind) => {
    const [first = ''] = headers;
    const line = view
      ? [
          { x: 0, y: planSize(view).height / 2 },
          { x: planSize(view).width, y: planSize(view).height / 2 },
        ]
      : [];
    if (kind === 'hand') set({ from: { kind } });
    else if (kind === 'coordinates') set({ from: { kind, x: first, y: first, unit: 1000 } });
    else set({ from: { kind, line, chainage: first, offset: null, unit: 1000 } });
  };
  return (
    <>
      <SelectField
        label="Stand"
        value={from.kind}
        options={[
          { value: 'along', label: 'along a line' },
          { value: 'coordinates', label: 'by x and y' },
          { value: 'hand', label: 'by hand' },
        ]}
        disabled={!isAllowed}
        onChange={setKind}
      />
      {from.kind === 'along' && (
        <>
          {column('Chainage', from.chainage, (chainage) => set({ from: { ...from, chainage } }))}
          <SelectField
            label="Beside by"
            value={from.offset ?? NONE}
            options={[
              { value: NONE, label: 'nothing: on the line' },
              ...options(from.offset ?? '').filter(({ value }) => value !== ''),
            ]}
            disabled={!isAllowed}
            onChange={(offset) =>
              set({ from: { ...from, offset: offset === NONE ? null : offset } })
            }
          />
          {lines.length > 0 && view && (
            <Button
              disabled={!isAllowed}
              onClick={() => {
                const line = lineInPlan(lines.at(-1)!, view);
                set({ from: { ...from, line } });
              }}
            >
              Take the line drawn last as its axis
            </Button>
          )}
        </>
      )}
      {from.kind === 'coordinates' && (
        <>
          {column('x', from.x, (x) => set({ from: { ...from, x } }))}
          {column('y', from.y, (y) => set({ from: { ...from, y } }))}
        </>
      )}
      {from.kind !== 'hand' && (
        <NumberField
          label="One is"
          value={from.unit}
          unit="mm"
          min={0.001}
          max={1e9}
          isExact
          disabled={!isAllowed}
          onChange={(unit) => unit !== null && set({ from: { ...from, unit } })}
        />
      )}
    </>
  );
}

/** How the marks are drawn. */
function SymbolFields(props: MarkFields) {
  const { thing, isAllowed } = props;
  const { set, options, column } = useMarkFields(props);
  return (
    <>
      <SelectField
        label="Symbol"
        value={thing.symbol}
        options={MARK_SYMBOLS.map((symbol) => ({ value: symbol, label: symbol }))}
        disabled={!isAllowed}
        onChange={(symbol) => set({ symbol })}
      />
      <SelectField
        label="Ground"
        value={thing.colours?.kind ?? NONE}
        options={[
          { value: NONE, label: 'white' },
          { value: 'source', label: 'as cells are in the source' },
          { value: 'texts', label: 'by what a column says' },
        ]}
        disabled={!isAllowed}
        onChange={(kind) => {
          const column = thing.colours?.column ?? thing.labels.at(-1) ?? thing.key;
          set({ colours: kind === NONE ? null : { kind, column } });
        }}
      />
      {thing.colours &&
        column('of', thing.colours.column, (next) =>
          set({ colours: { ...thing.colours, column: next } }),
        )}
      {thing.colours?.kind === 'texts' && (
        <Tick isOn={thing.hasKey} isDisabled={!isAllowed} onChange={(hasKey) => set({ hasKey })}>
          Say in the plan what they stand for
        </Tick>
      )}
      <SelectField
        label="Area by"
        value={thing.sizes ?? NONE}
        options={[
          { value: NONE, label: 'nothing: all alike' },
          ...options(thing.sizes ?? '').filter(({ value }) => value !== ''),
        ]}
        disabled={!isAllowed}
        onChange={(next) => set({ sizes: next === NONE ? null : next })}
      />
      <NumberField
        label="Large"
        value={thing.size}
        unit="mm"
        min={0.5}
        max={50}
        disabled={!isAllowed}
        onChange={(size) => size !== null && set({ size })}
      />
      <NumberField
        label="Letters"
        value={thing.letters}
        unit="mm"
        min={1}
        max={20}
        disabled={!isAllowed}
        onChange={(letters) => letters !== null && set({ letters })}
      />
      <ColourField
        label="Lines"
        value={thing.colour}
        isAllowed={isAllowed}
        onChange={(next) => set({ colour: next ?? '#10242b' })}
      />
    </>
  );
}

/** What of the marks is to be looked at: rows without one, marks without a row, doubles. */
function MarkNotes(props: {
  documentId: string;
  surface: PageSurface;
  thing: MarksThing;
  view: ViewThing | null;
  isAllowed: boolean;
}) {
  const { documentId, surface, thing, view, isAllowed } = props;
  const found = useRowMarks(documentId, thing, view);
  if (!view) return <p className="text-behind">The plan that they stood in is gone.</p>;
  if (!found) return null;
  const placed = found.marks.filter(({ place }) => place !== null).length;
  const crowded = marksOnOnePlace(found.marks, Math.max(0.1, 0.5 / view.scale));
  const putIn = (key: string) =>
    surface.pages.step(() => surface.pages.change(thing.id, { [`places.${key}`]: view.centre }));
  const takeOut = (key: string) =>
    surface.pages.step(() => surface.pages.change(thing.id, { [`places.${key}`]: undefined }));
  return (
    <section aria-label="Check of the marks" className="border-y border-hairline py-2">
      <p role="status">
        {placed} of {found.marks.length} rows {placed === 1 ? 'has its mark' : 'have their marks'}.
      </p>
      <ul className="mt-1 flex max-h-[240px] flex-col gap-1 overflow-y-auto empty:hidden">
        {found.notes.map((note) => (
          <li key={JSON.stringify(note)} className="flex items-start gap-2">
            <span className="min-w-0 flex-1 text-behind">{noteWords(note)}</span>
            {note.kind === 'unplaced' && (
              <Button className="h-6" disabled={!isAllowed} onClick={() => putIn(note.key)}>
                Put it in
              </Button>
            )}
            {note.kind === 'gone' && (
              <Button className="h-6" disabled={!isAllowed} onClick={() => takeOut(note.key)}>
                Forget it
              </Button>
            )}
          </li>
        ))}
        {crowded.map((group) => (
          <li key={group[0]!.key} className="text-behind">
            {group.length} marks stand on one place:{' '}
            {group
              .slice(0, 4)
              .map(({ key }) => key)
              .join(', ')}
            {group.length > 4 && ' …'}
          </li>
        ))}
      </ul>
    </section>
  );
}

function noteWords(note: MarkNote): string {
  switch (note.kind) {
    case 'column missing':
      return `No header reads “${note.column}” any more.`;
    case 'no name':
      return `Row ${note.row} has no name, and so no mark.`;
    case 'double':
      return `“${note.key}” is the name of ${note.count} rows.`;
    case 'no number':
      return note.text === ''
        ? `“${note.key}” has no ${note.column}.`
        : `“${note.key}”: ${note.column} is “${note.text}”, which is no number.`;
    case 'no size':
      return note.text === ''
        ? `“${note.key}” has no ${note.column}: its symbol is as large as the largest.`
        : `“${note.key}”: ${note.column} is “${note.text}”, which no symbol can be as large as.`;
    case 'outside':
      return `“${note.key}” lies outside the plan.`;
    case 'unplaced':
      return `“${note.key}” has no mark yet.`;
    case 'gone':
      return `There is a mark “${note.key}”, and no row of that name.`;
  }
}
