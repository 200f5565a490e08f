import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import type { ChangeLines } from '@tether/contract';
import { type Area, columnName } from '@tether/core';
import { ChevronDown } from 'lucide-react';
import { useState } from 'react';
import { faultOf, useChangeLinesMutation, useSeeLinesQuery } from '../../state/api.ts';
import { Button } from '../../ui/Button.tsx';
import { counted } from '../../ui/counted.ts';
import { FaultNote } from '../../ui/FaultNote.tsx';
import { QuestionBox } from '../../ui/QuestionBox.tsx';

/** A wish, and how it is said. */
interface Offer {
  words: string;
  change: ChangeLines;
}

/** What can be done with the rows and columns of the selected cells. */
function offersFor(sheet: string, { top, left, bottom, right }: Area): Offer[] {
  const rows = { sheet, axis: 'rows', count: bottom - top + 1 } as const;
  const columns = { sheet, axis: 'columns', count: right - left + 1 } as const;
  const many = (count: number, one: string) => (count === 1 ? `a ${one}` : `${count} ${one}s`);
  const span = (one: string, from: string, to: string) =>
    from === to ? `${one} ${from}` : `${one}s ${from} to ${to}`;
  const [first, last] = [columnName(left), columnName(right)];
  return [
    {
      words: `Put ${many(rows.count, 'row')} in above row ${top}`,
      change: { ...rows, kind: 'put in', at: top },
    },
    {
      words: `Put ${many(rows.count, 'row')} in below row ${bottom}`,
      change: { ...rows, kind: 'put in', at: bottom + 1 },
    },
    {
      words: `Take out ${span('row', String(top), String(bottom))}`,
      change: { ...rows, kind: 'take out', at: top },
    },
    {
      words: `Put ${many(columns.count, 'column')} in before column ${first}`,
      change: { ...columns, kind: 'put in', at: left },
    },
    {
      words: `Put ${many(columns.count, 'column')} in behind column ${last}`,
      change: { ...columns, kind: 'put in', at: right + 1 },
    },
    {
      words: `Take out ${span('column', first, last)}`,
      change: { ...columns, kind: 'take out', at: left },
    },
  ];
}

/** Puts rows and columns into the source and takes them out. */
export function LinesMenu(props: { sourceId: string; hash: string; sheet: string; area: Area }) {
  const { sourceId, hash, sheet, area } = props;
  const [asked, setAsked] = useState<Offer | null>(null);
  return (
    <>
      <Menu>
        <MenuButton className="flex h-6 shrink-0 items-center gap-1 rounded-box px-2 hover:bg-white data-open:bg-white">
          Rows and columns <ChevronDown size={13} aria-hidden />
        </MenuButton>
        <MenuItems
          anchor="bottom end"
          className="z-40 w-[250px] rounded-box border border-hairline bg-white py-1"
        >
          {offersFor(sheet, area).map((offer, at) => (
            <MenuItem key={offer.words}>
              <button
                type="button"
                className={`block w-full px-3 py-1.5 text-left data-focus:bg-mist ${at === 3 ? 'border-t border-hairline' : ''}`}
                onClick={() => setAsked(offer)}
              >
                {offer.words} …
              </button>
            </MenuItem>
          ))}
        </MenuItems>
      </Menu>
      {asked && (
        <Question sourceId={sourceId} hash={hash} offer={asked} onClose={() => setAsked(null)} />
      )}
    </>
  );
}

function Question(props: { sourceId: string; hash: string; offer: Offer; onClose: () => void }) {
  const { sourceId: id, hash, offer, onClose } = props;
  const { change, words } = offer;
  const { data: seen, error, isFetching } = useSeeLinesQuery({ id, hash, change });
  const [make, making] = useChangeLinesMutation();
  const failed = making.error ?? error;
  const doIt = async () => {
    const done = seen && (await make({ id, change, token: seen.token }));
    if (done && !('error' in done)) onClose();
  };
  return (
    <QuestionBox title={words} onClose={onClose}>
      {isFetching && <p role="status">Checking what depends on it …</p>}
      {seen && !error && (
        <ul className="flex list-disc flex-col gap-1 pl-5">
          {seen.taken > 0 && <li>{counted(seen.taken, 'filled cell')} will be gone.</li>}
          <li>
            {seen.follows.formulas === 0
              ? 'No formula points there.'
              : `${counted(seen.follows.formulas, 'formula')}, names and rules among them, ${seen.follows.formulas === 1 ? 'follows' : 'follow'}.`}
          </li>
          {seen.follows.lost > 0 && (
            <li className="font-semibold text-adrift">
              {counted(seen.follows.lost, 'formula')} of them{' '}
              {seen.follows.lost === 1 ? 'loses' : 'lose'} what{' '}
              {seen.follows.lost === 1 ? 'it looks' : 'they look'} at, and will show an error.
            </li>
          )}
          {seen.recalculated > 0 && (
            <li>{counted(seen.recalculated, 'figure')} will be another.</li>
          )}
          {seen.notFinal.length > 0 && (
            <li>
              {counted(seen.notFinal.length, 'figure')} cannot be computed here, among them{' '}
              {seen.notFinal[0]!.sheet}!{seen.notFinal[0]!.ref}: {seen.notFinal[0]!.why}. The next
              program that opens the workbook does.
            </li>
          )}
          {seen.hasPrograms && <li>The programs in the workbook stay as they are.</li>}
          {seen.losesSignature && (
            <li>The file is signed: its signature will not hold any more.</li>
          )}
          <li>It is written into the file at once. The log takes it back.</li>
        </ul>
      )}
      {failed && <FaultNote fault={faultOf(failed)} />}
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Leave it</Button>
        <Button
          kind="primary"
          disabled={!seen || error !== undefined || isFetching || making.isLoading}
          onClick={() => void doIt()}
        >
          {making.isLoading ? 'Writing …' : change.kind === 'put in' ? 'Put in' : 'Take out'}
        </Button>
      </div>
    </QuestionBox>
  );
}
