import type { DocumentDetail, Tether } from '@tether/contract';
import { copiedTable, describeReach, type Fault, headerOf, type Snapshot } from '@tether/core';
import { isInline } from '@tether/documents';
import { Link, Snowflake } from 'lucide-react';
import { useState } from 'react';
import { type FixedCell, type Surface, useSurface } from '../documents/surface.ts';
import { valueText } from '../placed/value-text.ts';
import {
  faultOf,
  tethersApi,
  usePictureObjectMutation,
  useSetFrozenMutation,
  useTethersQuery,
} from '../state/api.ts';
import { useAppDispatch } from '../state/store.ts';
import { useMayChange } from '../state/useMayChange.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { Moment } from '../ui/Moment.tsx';
import { Popup } from '../ui/Popup.tsx';

interface Props {
  saved: DocumentDetail;
  surface: Surface | null;
  tether: Tether;
  /** Why it cannot be done now. */
  whyNot: string | undefined;
}

/** Keeps what an object shows, as it is, as text or as a picture; or lets it follow its source again. */
export function Freezing({ saved, surface, tether, whyNot }: Props) {
  const dispatch = useAppDispatch();
  const [setFrozen, { error: frozenError }] = useSetFrozenMutation();
  const [makePicture, making] = usePictureObjectMutation();
  const [fault, setFault] = useState<Fault | null>(null);
  const { id } = tether;
  const there = surface?.object(id);
  const failed = fault ?? (frozenError ? faultOf(frozenError) : null);
  const freeze = async (): Promise<boolean> => {
    setFault(null);
    return (await setFrozen({ id, isFrozen: true })).error === undefined;
  };
  const asText = async (): Promise<boolean> => {
    const shown = await dispatch(
      tethersApi.endpoints.snapshot.initiate(tether.shown, { subscribe: false }),
    );
    if (!shown.data || !surface || !there) {
      if (shown.error) setFault(faultOf(shown.error));
      return false;
    }
    const words =
      there.form === 'tag'
        ? [[`${tether.source.path} ${describeReach(tether.reach)}`]]
        : there.form === 'value'
          ? [[valueText(shown.data, there.dressing.value ?? {})]]
          : cellsOf(shown.data);
    const isFrozen = await freeze();
    if (isFrozen) surface.fix(id, words);
    return isFrozen;
  };
  const asPicture = async (): Promise<boolean> => {
    setFault(null);
    const made = await makePicture({ documentId: saved.id, id });
    if (made.error) {
      setFault(faultOf(made.error));
      return false;
    }
    const alt = `${tether.name}, from ${tether.source.folder}/${tether.source.path}`;
    const isFrozen = await freeze();
    if (isFrozen) surface?.picture(id, { ...made.data, alt });
    return isFrozen;
  };
  return (
    <>
      {tether.frozen ? (
        <Button
          kind="quiet"
          className="px-2"
          disabled={whyNot !== undefined}
          title={whyNot}
          onClick={() => void setFrozen({ id, isFrozen: false })}
        >
          <Link size={15} aria-hidden /> Unfreeze
        </Button>
      ) : (
        <Popup
          label="Freeze: keep what it shows"
          face={
            <span className="flex items-center gap-1.5 font-semibold">
              <Snowflake size={15} aria-hidden /> Freeze
            </span>
          }
          hasWords
          placement="bottom-start"
          className="flex w-[240px] flex-col gap-1 p-2"
        >
          {(close) => {
            const act = (words: string, does: () => Promise<boolean>) => (
              <Button
                disabled={whyNot !== undefined || making.isLoading}
                title={whyNot}
                onClick={() => void does().then((isDone) => isDone && close())}
              >
                {words}
              </Button>
            );
            return (
              <>
                {act('As it is', freeze)}
                {act('As text', asText)}
                {!isInline(tether.form) &&
                  act(making.isLoading ? 'Drawing it …' : 'As a picture', asPicture)}
                <p className="px-1 pt-1 text-muted">
                  Text and picture take its place; as text it has no number any more. It can be tied
                  again.
                </p>
                {failed && <FaultNote fault={failed} />}
              </>
            );
          }}
        </Popup>
      )}
    </>
  );
}

/** The texts of a table, its header as one and its figures at the right. */
function cellsOf(snapshot: Snapshot): FixedCell[][] {
  const { title, rows } = headerOf(snapshot);
  return copiedTable(snapshot, title + rows).map((row) =>
    row.map(({ align, text, isHead, rows, columns }) => ({
      ...{ text, isHead, rows, columns },
      isRight: align === 'right',
    })),
  );
}

/** Objects whose place a picture or texts have taken: where these come from, and the way back. */
export function LetGo({ saved, surface }: { saved: DocumentDetail; surface: Surface }) {
  const { data: tethers = [] } = useTethersQuery(saved.id);
  const { isAllowed, whyNot } = useMayChange();
  const [setFrozen, { error }] = useSetFrozenMutation();
  const remains = useSurface(surface, (each) => each.remains());
  // One that was tied again, and then taken back in the text, follows its source; its picture is there again.
  const gone = tethers.filter(
    ({ id, placed, frozen }) => !placed && (frozen !== null || remains.includes(id)),
  );
  if (gone.length === 0) return null;
  return (
    <section aria-labelledby="let-go" className="mt-4 border-t border-hairline pt-3">
      <h3 id="let-go" className="mb-1.5 text-sm font-semibold text-muted">
        Frozen as text or picture
      </h3>
      <ul className="flex flex-col divide-y divide-hairline">
        {gone.map((tether) => (
          <li key={tether.id} className="py-2">
            <p className="font-semibold">{tether.name}</p>
            <p className="break-words text-muted">
              {tether.source.folder}/{tether.source.path} {describeReach(tether.reach)}
              {tether.frozen && (
                <>
                  , frozen <Moment at={tether.frozen.at} />
                </>
              )}
            </p>
            <Button
              className="mt-1"
              disabled={!isAllowed || saved.hold !== null}
              title={whyNot}
              onClick={() => {
                surface.bringIn({ id: tether.id, form: tether.form });
                void setFrozen({ id: tether.id, isFrozen: false });
              }}
            >
              Tie again
            </Button>
          </li>
        ))}
      </ul>
      {error && <FaultNote fault={faultOf(error)} className="mt-2" />}
    </section>
  );
}
