import { PICTURE_NODE } from '@tether/documents';
import { TextSelection } from '@tiptap/pm/state';
import type { EditorProps } from '@tiptap/pm/view';
import { cellKey, cellToType, filledDown } from '../documents/editing/cell-to-type.ts';
import { type PastedPage, readPage } from '../documents/pictures/pasted-page.ts';
import { picturesAmong } from '../documents/pictures/usePictures.ts';
import type { Anchor } from '../documents/surface.ts';
import { followsLink } from '../documents/writing/links.ts';
import { type Incoming, readIncoming } from '../sources/carried.ts';
import type { AppStore } from '../state/store.ts';
import { cellOpened, cellPicked, lettersRefused } from '../state/workbench-slice.ts';
import { leaveSelected, wholeSelected } from './text/objects/object-commands.ts';

/** What is told of what comes into the text from outside. What nobody is told of goes in as the editor has it. */
export interface ComingIn {
  onCells?: ((incoming: Incoming, at?: Anchor) => void) | undefined;
  /** Pictures that are pasted or dropped: they go where the cursor stands. */
  onPictures?: ((files: File[]) => void) | undefined;
  /** A page that is pasted with pictures in it: gives it with those that the server took. */
  onPage?: ((page: PastedPage) => Promise<string>) | undefined;
}

/** What keys, clicks, pasting and dropping do in the text of a report, beyond what the editor does by itself. */
export function editorProperties(
  { id, name }: { id: string; name: string },
  store: AppStore,
  comingIn: () => ComingIn,
): EditorProps {
  const { dispatch } = store;
  return {
    attributes: {
      class: 'paper-text',
      role: 'textbox',
      'aria-multiline': 'true',
      'aria-label': `Text of ${name}`,
    },
    // An object is not written over: it says how it is changed instead.
    handleTextInput: (view, _from, _to, letters) => {
      const whole = wholeSelected(view.state);
      if (!whole) return false;
      // A picture is not written in: who writes goes on behind it.
      if (whole.node.type.name === PICTURE_NODE) {
        leaveSelected(view);
        view.dispatch(view.state.tr.insertText(letters));
        return true;
      }
      // Into a cell that was unlocked they are typed; over an object nothing is.
      const open = cellToType(store.getState(), id);
      dispatch(open ? cellOpened({ ...open, letters }) : lettersRefused());
      return true;
    },
    handleKeyDown: (view, event) => {
      // Enter goes on behind it, as behind any line.
      const { key, shiftKey, ctrlKey, metaKey, altKey } = event;
      if (!view.editable || !wholeSelected(view.state) || shiftKey || altKey) return false;
      if (ctrlKey || metaKey) {
        const filled = key === 'd' ? filledDown(store.getState(), id) : null;
        if (filled) dispatch(cellOpened(filled));
        return filled !== null;
      }
      // A cell that was unlocked is gone through and opened as in any grid.
      const act = cellKey(store.getState(), id, key);
      if (act) {
        dispatch('pick' in act ? cellPicked(act.pick) : cellOpened(act.open));
        return true;
      }
      if (key !== 'Enter') return false;
      leaveSelected(view);
      return true;
    },
    handleClick: (view, _position, event) => followsLink(view, event),
    handleDOMEvents: {
      // Letters that are put together from several keys cannot be refused any more: they go behind it.
      compositionstart: (view) => leaveSelected(view),
    },
    handlePaste: (view, event) => {
      const { onCells, onPictures, onPage } = comingIn();
      leaveSelected(view);
      const pictures = picturesAmong(event.clipboardData);
      if (pictures.length > 0 && view.editable && onPictures) {
        onPictures(pictures);
        return true;
      }
      const incoming = event.clipboardData && readIncoming(event.clipboardData);
      if (incoming && onCells) {
        onCells(incoming);
        return true;
      }
      const page = readPage(event.clipboardData?.getData('text/html') ?? '');
      if (!page || !view.editable || !onPage) return false;
      // Without pictures there is nothing to wait for.
      if (page.pictures.length + page.elsewhere === 0) view.pasteHTML(page.html);
      else void onPage(page).then((html) => view.isDestroyed || view.pasteHTML(html));
      return true;
    },
    handleDrop: (view, event) => {
      const { onCells, onPictures } = comingIn();
      const pictures = picturesAmong(event.dataTransfer);
      if (pictures.length > 0 && view.editable && onPictures) {
        const place = view.posAtCoords({ left: event.clientX, top: event.clientY })?.pos;
        if (place !== undefined) {
          const { tr } = view.state;
          view.dispatch(tr.setSelection(TextSelection.near(tr.doc.resolve(place))));
        }
        onPictures(pictures);
        event.preventDefault();
        return true;
      }
      const incoming = event.dataTransfer && readIncoming(event.dataTransfer);
      if (incoming?.kind !== 'carried' || !onCells) return false;
      const at = view.posAtCoords({ left: event.clientX, top: event.clientY })?.pos;
      onCells(incoming, at);
      event.preventDefault();
      return true;
    },
  };
}
