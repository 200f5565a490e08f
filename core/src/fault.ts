/**
 * Errors are values: a code for programs, a sentence for the person, and what to do next.
 * This is the one table of them; every room takes its faults from here.
 */
const FAULTS = {
  'reference-malformed': (p: { text: string }) => [
    `“${p.text}” is not a cell reference.`,
    'Write a range such as B2:F14, or Sheet!B2:F14 with the sheet in front.',
  ],
  'reference-outside-sheet': (p: { text: string }) => [
    `“${p.text}” lies outside the sheet.`,
    'A sheet ends at row 1,048,576 and column XFD: choose a range inside it.',
  ],
  'sheet-missing': (p: { sheet: string; sheets: string }) => [
    `The workbook has no sheet “${p.sheet}”.`,
    `Its sheets now are: ${p.sheets}. Rename the sheet back, or place the object again from another sheet.`,
  ],
  'name-missing': (p: { name: string; names: string }) => [
    `The workbook has no name or table “${p.name}”.`,
    `Its names now are: ${p.names}. Give the name back, or choose another reach.`,
  ],
  'name-not-range': (p: { name: string; refersTo: string }) => [
    `The name “${p.name}” is not one range of cells but “${p.refersTo}”, which cannot be followed.`,
    'Let the name refer to one range, or choose a growing block instead.',
  ],
  'column-missing': (p: { columns: string; headers: string }) => [
    `No header reads “${p.columns}” any more.`,
    `The headers now are: ${p.headers}. Give the header back, or pick the columns again.`,
  ],
  'header-missing': (p: { row: string; words: string }) => [
    p.words === ''
      ? `Row ${p.row}, where its header stood, is empty now.`
      : `Its header (${p.words}) is not in row ${p.row} any more, and in no row around it.`,
    'Give the header back in the source, or choose anew what is taken.',
  ],
  'source-missing': (p: { path: string }) => [
    `The file “${p.path}” is not there any more.`,
    'Put the file back, or look under Sources where it may be now.',
  ],
  'source-empty': (p: { path: string }) => [
    `The file “${p.path}” is empty (zero bytes).`,
    'Save the workbook again from the program it is kept with, or restore it from a backup.',
  ],
  'source-not-workbook': (p: { path: string }) => [
    `The file “${p.path}” is not a workbook that can be read.`,
    'Save it as an Office Open XML workbook (.xlsx) or an OpenDocument spreadsheet (.ods) and put it in the same place.',
  ],
  'source-not-text': (p: { path: string }) => [
    `The file “${p.path}” is not a table in plain text.`,
    'Save it as delimited text (CSV) from the program it comes from.',
  ],
  'source-old-format': (p: { path: string }) => [
    `The file “${p.path}” is kept in an old binary format.`,
    'Open it in a spreadsheet program and save it as an Office Open XML workbook (.xlsx).',
  ],
  'source-password-protected': (p: { path: string }) => [
    `The workbook “${p.path}” is protected with a password to open it.`,
    'Ask its owner to save it without the password for opening; protection of sheets may stay.',
  ],
  'source-part-missing': (p: { path: string; part: string }) => [
    `The workbook “${p.path}” lacks a part it needs (${p.part}).`,
    'The file was probably cut short: save it again, or restore it from a backup.',
  ],
  'source-damaged': (p: { path: string; detail: string }) => [
    `The workbook “${p.path}” is damaged: ${p.detail}.`,
    'Open it in a spreadsheet program, let it be repaired and save it again, or restore a backup.',
  ],
  'source-too-large': (p: { path: string; limit: string }) => [
    `The workbook “${p.path}” holds more than can be read here (${p.limit}).`,
    'Split the workbook, or move the figures you need into a smaller one.',
  ],
  'source-slow': (p: { path: string; minutes: string }) => [
    `Reading “${p.path}” takes longer than ${p.minutes} minutes.`,
    'It is tried again later by itself. If it stays so, ask its owner to make it smaller or simpler: conditional formats over whole columns take longest.',
  ],
  'source-unreadable': (p: { path: string; detail: string }) => [
    `The file “${p.path}” could not be read (${p.detail}).`,
    'Check that the file may be read here and that no other program keeps it locked, then save it again.',
  ],
  'path-outside-folder': (p: { path: string }) => [
    `“${p.path}” leads out of its source folder.`,
    'Put the file itself into the source folder instead of a link or a path that leaves it.',
  ],
  'chart-missing': (p: { chart: string }) => [
    `The source has no chart “${p.chart}” any more.`,
    'Open the source again to see the charts it has now.',
  ],
  'folder-name-taken': (p: { name: string }) => [
    `There is a source folder named “${p.name}” already.`,
    'Choose another name for it.',
  ],
  'folder-place-taken': (p: { name: string }) => [
    `That folder is watched already: it is, holds or lies in “${p.name}”.`,
    'Choose another folder, or use the one there is.',
  ],
  'folder-not-allowed': (p: { path: string; roots: string }) => [
    `The server may not use “${p.path}” as a source folder.`,
    `Choose a folder below ${p.roots}; the person who runs the server can allow others.`,
  ],
  'folder-missing': (p: { path: string }) => [
    `There is no folder “${p.path}” on the server.`,
    'Look at the spelling, or choose it from the list.',
  ],
  'folder-in-use': (p: { documents: string }) => [
    `Objects in ${p.documents} show figures out of this folder.`,
    'Take those objects out of the documents first, or tie them to other sources.',
  ],
  'file-exists': (p: { path: string }) => [
    `There is a file “${p.path}” in this folder already.`,
    'Give the new file another name; what is there stays as it is.',
  ],
  'file-kind-unknown': (p: { name: string; kinds: string }) => [
    `“${p.name}” is not a kind of file that can be a source.`,
    `These can: ${p.kinds}.`,
  ],
  'upload-cut-short': (p: { name: string }) => [
    `“${p.name}” did not arrive whole.`,
    'Nothing was kept of it: try again.',
  ],
  'upload-no-room': (p: { name: string }) => [
    `There is no room left on the disk for “${p.name}”.`,
    'Nothing was kept of it. Make room on the server, then try again.',
  ],
  'upload-not-kept': (p: { name: string; why: string }) => [
    `“${p.name}” arrived and could not be kept: ${p.why}.`,
    'Nothing was kept of it. Ask whoever looks after the server.',
  ],
  'folder-read-only': (p: { folder: string }) => [
    `The source folder “${p.folder}” may not be written to.`,
    'Ask whoever looks after the folder, or use another one.',
  ],
  'upload-too-large': (p: { name: string; limit: string }) => [
    `“${p.name}” is larger than ${p.limit}.`,
    'Put the file into the folder by another way, or split it.',
  ],
  'mooring-not-possible': (p: { why: string }) => [
    `It cannot be moored: ${p.why}.`,
    'It is followed by what its cells hold, as without a mooring.',
  ],
  'page-not-there': (p: { page: string; pages: string }) => [
    `There is no page ${p.page}: the document has ${p.pages}.`,
    'Choose one of them.',
  ],
  'picture-too-fine': (p: { dots: string; most: string }) => [
    `At ${p.dots} dots to the inch a page of this size has more dots than a picture can hold.`,
    `Choose at most ${p.most} dots to the inch, or save it as SVG, which is sharp at any size.`,
  ],
  'picture-not-made': (p: { why: string }) => [
    `No picture was made of it: ${p.why}.`,
    'Freeze it as it is, or as text.',
  ],
  'office-not-done': (p: { why: string }) => [
    `The office did not do that: ${p.why}`,
    'Look at the example beside each field, and say it like that.',
  ],
  'bundle-not-one': (p: { path: string; detail: string }) => [
    `“${p.path}” is not a bundle that can be opened: ${p.detail}.`,
    'Choose a file that was made by packing a document with its sources, or have it packed again.',
  ],
  'bundle-newer': (p: { path: string }) => [
    `“${p.path}” was packed by a later version than this one.`,
    'Have it packed by this version, or open it where the later one runs.',
  ],
  'bundle-too-large': (p: { limit: string }) => [
    `The document and its sources are more than ${p.limit} together.`,
    'Tie objects of the largest files to smaller ones, or freeze and take them out, and pack it then.',
  ],
  'folder-offline': (p: { folder: string }) => [
    `The source folder “${p.folder}” cannot be reached.`,
    'Check that the drive or share is connected; its objects keep their last figures until then.',
  ],
  'reach-too-large': (p: { cells: string }) => [
    `The range holds ${p.cells} cells, more than one placed table can show.`,
    'Choose a range of at most 200,000 cells.',
  ],
  'forecast-no-numbers': () => [
    'There are no numbers in time to carry on.',
    'Take cells with a column of figures, and their dates beside them where they have such.',
  ],
  'forecast-irregular': () => [
    'The times are not evenly spaced, or more than three in ten are missing.',
    'Take figures of every day, month or other step, or leave the column of times out.',
  ],
  'forecast-too-few': (p: { values: string; needed: string }) => [
    `There are ${p.values} values, too few to carry on: ${p.needed} are needed.`,
    'Take a longer series, or a shorter season.',
  ],
  'printer-missing': () => [
    'The server has no Chromium to print with.',
    'Print from your own browser, or ask the person who runs the server to install it.',
  ],
  'printing-stopped': () => ['Printing was stopped.', 'Nothing was kept: start it again.'],
  'not-signed-in': () => [
    'You are not signed in.',
    'Sign in to go on; what you wrote is kept here.',
  ],
  'sign-in-failed': () => [
    'The name and the password do not go together.',
    'Check both and try again.',
  ],
  'origin-not-allowed': (p: { origin: string }) => [
    `The page at “${p.origin}” may not act here in your name.`,
    'Open the product at its own address and do it there. Where something stands before it that changes its address, its operator names that in TETHER_ORIGINS.',
  ],
  'too-many-at-once': () => [
    'Too many people are signing in at the same moment.',
    'Wait a moment and try again.',
  ],
  'not-allowed': (p: { who: string }) => [
    'You may look at this but not change it.',
    `Ask ${p.who} to make the change.`,
  ],
  'not-found': (p: { what: string }) => [
    `There is no such ${p.what}.`,
    'It may have been removed: go back to the desk.',
  ],
  'command-malformed': (p: { detail: string }) => [
    `The command was not understood: ${p.detail}.`,
    'Write tether help for how it is written.',
  ],
  'request-malformed': (p: { detail: string }) => [
    `The request was not understood: ${p.detail}.`,
    'Reload the page and try again.',
  ],
  'document-saved-elsewhere': (p: { who: string }) => [
    `${p.who} saved this document while you were writing.`,
    'Your text is still here: keep it as a copy, or load the saved one; yours is then kept among the versions.',
  ],
  'nothing-to-refresh': () => [
    'There is nothing to take: the object already stands as shown.',
    'Look at its standing again; somebody else may have refreshed it.',
  ],
  'write-not-possible': (p: { why: string }) => [
    `The file cannot be written to: ${p.why}.`,
    'Nothing was changed. Write the figures in the program that made the file.',
  ],
  'write-changed': (p: { path: string }) => [
    `${p.path} was saved by somebody since this was looked at.`,
    'Nothing was written. Look at the changes again, then write.',
  ],
  'write-held': (p: { path: string; who: string }) => [
    `${p.who} has ${p.path} open.`,
    'Nothing was written. Write when it is closed there.',
  ],
  'write-read-only': (p: { path: string }) => [
    `${p.path} may not be written to.`,
    'Ask whoever looks after the folder, or write into a copy.',
  ],
  'write-no-room': (p: { path: string }) => [
    `There is no room on the disk for ${p.path}.`,
    'Nothing was written. Make room, then write again.',
  ],
  'write-not-encodable': (p: { sign: string; encoding: string }) => [
    `The file is written in ${p.encoding}, which has no “${p.sign}”.`,
    'Write it in other letters, or save the file as UTF-8 where it comes from.',
  ],
  'write-formula': (p: { cell: string }) => [
    `${p.cell} holds a formula, which a figure would take the place of.`,
    'Change the cells that it reads, or say that the formula may go.',
  ],
  'entry-not-number': (p: { typed: string }) => [
    `“${p.typed}” is no number, and a number stands here.`,
    "Type a number, or put a ' in front of it to make it a text.",
  ],
  'entry-not-date': (p: { typed: string }) => [
    `“${p.typed}” is no day, and a day stands here.`,
    "Type a day, such as 2026-10-05, or put a ' in front of it to make it a text.",
  ],
  'entry-not-truth': (p: { typed: string }) => [
    `“${p.typed}” is neither TRUE nor FALSE, and one of them stands here.`,
    "Type TRUE or FALSE, or put a ' in front of it to make it a text.",
  ],
  'entry-refused': (p: { expected: string }) => [
    `The source does not take that here. It expects: ${p.expected}`,
    'Type something else, or leave the cell as it is.',
  ],
  'entry-formula': (p: { why: string }) => [
    `That formula cannot be taken: ${p.why}.`,
    'Formulas are typed with English names and commas, as in =SUM(B2:B9,C4).',
  ],
  'entry-taken': (p: { cell: string; by: string; typed: string }) => [
    `${p.by} typed ${p.typed === '' ? 'nothing' : `“${p.typed}”`} into ${p.cell} meanwhile.`,
    'Say which of the two holds.',
  ],
  'entries-waiting': (p: { count: number }) => [
    `${p.count === 1 ? 'One cell waits' : `${p.count} cells wait`} to be saved in this source.`,
    'Save them or let them go first: they stand where the rows and columns are now.',
  ],
  'source-saved-meanwhile': () => [
    'The file was saved meanwhile, and its cells may stand elsewhere.',
    'Look where the cell is now, then open it again.',
  ],
  'entry-protected': (p: { sheet: string }) => [
    `The sheet ${p.sheet} is protected against changes.`,
    'Lift the protection where the workbook comes from, then type again.',
  ],
  'cell-locked': (p: { cell: string }) => [
    `${p.cell} is locked.`,
    'Unlock it under “Writing back” in the object’s panel.',
  ],
  'not-writable': (p: { why: string }) => [
    `Nothing can be written through this object: ${p.why}.`,
    'Open the source, and change it there.',
  ],
  'edits-undecided': (p: { count: number }) => [
    `${p.count === 1 ? 'One edit is' : `${p.count} edits are`} not decided yet: the source changed there too.`,
    'Say for each which of the two holds, then write.',
  ],
  'edits-apart': (p: { cell: string }) => [
    `${p.cell} is corrected to different figures in two objects.`,
    'Let one of the two go, then write.',
  ],
  'nothing-to-write': () => ['There is no edit to be written.', 'Type a correction first.'],
  'calc-too-large': () => [
    'The workbook holds too many cells to compute its formulas here.',
    'Open it in a spreadsheet program, which computes it when it saves.',
  ],
  'write-array': (p: { cell: string }) => [
    `${p.cell} is one of several cells that one formula fills.`,
    'Change the cells that the formula reads.',
  ],
  'document-deleted': (p: { name: string }) => [
    `“${p.name}” was deleted.`,
    'The log says by whom, and brings it back as it was.',
  ],
  'document-held': (p: { who: string; since: string }) => [
    `${p.who} holds this document since ${p.since}: nothing in it is refreshed.`,
    'Release the hold in the document’s header first.',
  ],
  'object-frozen': () => ['The object is frozen: it keeps what it shows.', 'Unfreeze it first.'],
  'state-forgotten': () => [
    'That earlier state is not kept any more.',
    'Choose another one from the object’s history.',
  ],
  'not-taken-back': (p: { why: string }) => [
    `This cannot be taken back: ${p.why}.`,
    'Look at the object’s history, where each earlier state can be gone back to.',
  ],
  'waits-empty': () => [
    'Everything it takes is empty now.',
    'Look at the source; take the change if that is meant.',
  ],
  'waits-uncomputed': (p: { cells: string }) => [
    `${p.cells} with a formula ${p.cells === 'One cell' ? 'has' : 'have'} no stored value in the source now.`,
    'Open the source in a spreadsheet program and save it, so that it is computed; then the figures come.',
  ],
  'waits-errors': (p: { cells: string }) => [
    `${p.cells} turned into an error.`,
    'Look at the source; take the change if that is meant.',
  ],
  'waits-headers': (p: { headers: string }) => [
    `The header “${p.headers}” is gone.`,
    'Look whether the columns are still the right ones; then take the change, or choose what is taken anew.',
  ],
  'waits-totals': (p: { label: string }) => [
    `Its last row was one of totals${p.label === '' ? '' : `, “${p.label}”`}, and it is not among its cells any more.`,
    'Take its cells with a growing block or by a name of the workbook, which move along; or take the change if it is meant.',
  ],
  'waits-landmarks': (p: { how: string }) => [
    `Its cells stand ${p.how}.`,
    'Choose anew what is taken, best by a name of the workbook, which moves along; or take the change if it is meant.',
  ],
  'waits-moved': (p: { place: string }) => [
    `What it shows may stand at ${p.place} now.`,
    'Choose below what it takes. Until then it keeps what it shows.',
  ],
  'waits-share': (p: { changed: string; share: string }) => [
    `${p.changed} per cent of its cells changed, more than the ${p.share} that are taken unseen.`,
    'Look at the changes and take them if they are meant.',
  ],
  'scale-malformed': (p: { text: string }) => [
    `“${p.text}” is not a scale.`,
    'Write what is on the sheet and what it is in truth, such as 1:50 or 2:1; neither is nought.',
  ],
  'text-kind-unknown': (p: { kinds: string }) => [
    `This text holds something that is not known here: “${p.kinds}”.`,
    'It can be looked at, and stays as it is: whoever runs this server can bring it up to date.',
  ],
  'pictures-elsewhere': (p: { count: string }) => [
    p.count === '1'
      ? 'A picture of the page lies somewhere else and did not come along.'
      : `${p.count} pictures of the page lie somewhere else and did not come along.`,
    'Save them there as files, and put these in.',
  ],
  'picture-unknown': () => [
    'This is no picture that a document can hold.',
    'Take a PNG, a JPEG, a WebP or an SVG. Other programs can save pictures as one of them.',
  ],
  'picture-too-large': (p: { most: string }) => [
    `This picture is larger than ${p.most}.`,
    'Make it smaller in a program for pictures, and take it again.',
  ],
  'picture-unsafe': (p: { held: string }) => [
    `This drawing holds more than a drawing: ${p.held}.`,
    'Save it without scripts and links, or as a PNG, and take it again.',
  ],
  'object-not-drawn': (p: { detail: string }) => [
    `This object could not be drawn here: ${p.detail}.`,
    'Its figures are as they were. Choose another form for it, or another way to draw it.',
  ],
  'slip-out-of-date': () => [
    'The source changed again while you were looking.',
    'Look at the new changes and decide once more.',
  ],
  unexpected: (p: { detail: string }) => [
    `Something went wrong: ${p.detail}.`,
    'Nothing was changed. Try again; if it happens again, tell the person who runs this server.',
  ],
} satisfies Record<string, (p: never) => [message: string, hint: string]>;

/** The code of a fault: stable, for programs and tests. */
export type FaultCode = keyof typeof FAULTS;

/** What went wrong: `code` for programs, `message` one sentence for the person, `hint` what to do next. */
export interface Fault {
  code: FaultCode;
  message: string;
  hint: string;
}

/** The outcome of work that can fail for a reason the person can act on. */
export type Result<T> = { ok: true; value: T } | { ok: false; fault: Fault };

type Params<C extends FaultCode> = Parameters<(typeof FAULTS)[C]>;

/** Makes the fault `code` with its sentences filled in. */
export function fault<C extends FaultCode>(code: C, ...params: Params<C>): Fault {
  const sentences = FAULTS[code] as (...p: unknown[]) => string[];
  const [message, hint] = sentences(...params) as [string, string];
  return { code, message, hint };
}

/** Every fault code there is. */
export const FAULT_CODES = Object.keys(FAULTS) as [FaultCode, ...FaultCode[]];

/** A successful result. */
export function ok<T>(value: T): { ok: true; value: T } {
  return { ok: true, value };
}

/** A failed result with the fault `code`. */
export function fail<C extends FaultCode>(
  code: C,
  ...params: Params<C>
): { ok: false; fault: Fault } {
  return { ok: false, fault: fault(code, ...params) };
}
