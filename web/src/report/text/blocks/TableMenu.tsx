import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import type { ChainedCommands } from '@tiptap/core';
import { type Editor, useEditorState } from '@tiptap/react';
import { Check, Table2 } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { Button } from '../../../ui/Button.tsx';
import { Tick } from '../../../ui/fields/Tick.tsx';
import { IconButton } from '../../../ui/IconButton.tsx';
import { QuestionBox } from '../../../ui/QuestionBox.tsx';
import { asOneStep } from '../shared/shared-text.ts';
import {
  areFiguresRight,
  insertTable,
  MOST_COLUMNS,
  MOST_ROWS,
  setFiguresRight,
} from './fixed-table.ts';

/** Puts a table of one's own into the text, and changes the one that the cursor stands in. */
export function TableMenu({ editor }: { editor: Editor }) {
  const [isAsking, setAsking] = useState(false);
  const isIn = useEditorState({ editor, selector: ({ editor: now }) => now.isActive('table') });
  const label = 'A table of your own';
  return (
    <>
      {isIn ? (
        <Menu>
          <MenuButton as={IconButton} icon={Table2} label="This table" isOn />
          <MenuItems
            anchor="right start"
            className="z-30 max-h-[480px] w-72 overflow-auto rounded-box border border-hairline bg-white py-1 shadow-paper"
          >
            <TableActs editor={editor} />
          </MenuItems>
        </Menu>
      ) : (
        <IconButton icon={Table2} label={label} onClick={() => setAsking(true)} />
      )}
      {isAsking && (
        <TableSize
          onClose={() => setAsking(false)}
          onChosen={(wish) => {
            setAsking(false);
            // The box that closes gives the focus back to the rail; work goes on in the table.
            requestAnimationFrame(() =>
              asOneStep(editor.storage.sharedText.steps, () => insertTable(editor, wish)),
            );
          }}
        />
      )}
    </>
  );
}

function TableActs({ editor }: { editor: Editor }) {
  const can = useEditorState({
    editor,
    selector: ({ editor: now }) => ({
      merge: now.can().mergeCells(),
      split: now.can().splitCell(),
      isHeader: now.isActive('tableHeader'),
      right: areFiguresRight(now.state),
    }),
  });
  // Each is a step of its own, however quickly one follows the other.
  const act = (does: (chain: ChainedCommands) => ChainedCommands) => () =>
    asOneStep(editor.storage.sharedText.steps, () => does(editor.chain().focus()).run());
  return (
    <>
      <Act onClick={act((chain) => chain.addRowBefore())}>A row above</Act>
      <Act onClick={act((chain) => chain.addRowAfter())}>A row below</Act>
      <Act onClick={act((chain) => chain.deleteRow())}>Take out this row</Act>
      <hr className="my-1 border-hairline" />
      <Act onClick={act((chain) => chain.addColumnBefore())}>A column at the left</Act>
      <Act onClick={act((chain) => chain.addColumnAfter())}>A column at the right</Act>
      <Act onClick={act((chain) => chain.deleteColumn())}>Take out this column</Act>
      <Act
        isOn={can.right === true}
        isOff={can.right === null}
        onClick={() =>
          // Once the menu is closed, which gives the focus back to its button.
          requestAnimationFrame(() =>
            asOneStep(editor.storage.sharedText.steps, () =>
              setFiguresRight(editor, can.right !== true),
            ),
          )
        }
      >
        Figures of this column at its right side
      </Act>
      <hr className="my-1 border-hairline" />
      <Act onClick={act((chain) => chain.toggleHeaderRow())}>Header row on or off</Act>
      <Act onClick={act((chain) => chain.toggleHeaderColumn())}>Header column on or off</Act>
      <Act isOff={!can.merge} onClick={act((chain) => chain.mergeCells())}>
        Merge the marked cells
      </Act>
      <Act isOff={!can.split} onClick={act((chain) => chain.splitCell())}>
        Split this merged cell
      </Act>
      <hr className="my-1 border-hairline" />
      <Act onClick={act((chain) => chain.deleteTable())}>Take out the table</Act>
    </>
  );
}

function Act(props: { isOn?: boolean; isOff?: boolean; onClick: () => void; children: ReactNode }) {
  const { isOn, isOff = false, onClick, children } = props;
  return (
    <MenuItem disabled={isOff}>
      <button
        type="button"
        className="flex w-full items-baseline gap-2 px-3 py-1 text-left data-disabled:text-muted data-disabled:opacity-60 data-focus:bg-mist"
        onClick={onClick}
      >
        <span className="w-3">{isOn && <Check size={12} aria-hidden />}</span>
        <span>
          {children}
          {isOn && <span className="sr-only">, on</span>}
        </span>
      </button>
    </MenuItem>
  );
}

function TableSize(props: {
  onClose: () => void;
  onChosen: (wish: { rows: number; columns: number; hasHeader: boolean }) => void;
}) {
  const [rows, setRows] = useState('3');
  const [columns, setColumns] = useState('3');
  const [hasHeader, setHeader] = useState(true);
  const count = (words: string, most: number) => {
    const number = Number(words);
    return Number.isInteger(number) && number >= 1 && number <= most ? number : null;
  };
  const wanted = { rows: count(rows, MOST_ROWS), columns: count(columns, MOST_COLUMNS) };
  const isRight = wanted.rows !== null && wanted.columns !== null;
  const field = (
    name: string,
    value: string,
    set: (words: string) => void,
    most: number,
    isWrong: boolean,
  ) => (
    <label className="flex items-center gap-2">
      <span className="w-20">{name}</span>
      <input
        inputMode="numeric"
        value={value}
        aria-invalid={isWrong}
        onChange={({ target }) => set(target.value)}
        className="w-20 rounded-box border border-hairline px-2 py-1"
      />
      {isWrong && <span className="text-adrift">A number from 1 to {most}</span>}
    </label>
  );
  return (
    <QuestionBox title="A table of your own" onClose={props.onClose}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          const { rows: down, columns: across } = wanted;
          if (down !== null && across !== null)
            props.onChosen({ rows: down, columns: across, hasHeader });
        }}
      >
        {field('Rows', rows, setRows, MOST_ROWS, wanted.rows === null)}
        {field('Columns', columns, setColumns, MOST_COLUMNS, wanted.columns === null)}
        <Tick isOn={hasHeader} onChange={setHeader}>
          The first row is a header
        </Tick>
        <p className="text-muted">
          It is text: it follows no source. For live figures use <b>Place</b>.
        </p>
        <div className="flex justify-end gap-2">
          <Button onClick={props.onClose}>Cancel</Button>
          <Button kind="primary" type="submit" disabled={!isRight}>
            Put it in
          </Button>
        </div>
      </form>
    </QuestionBox>
  );
}
