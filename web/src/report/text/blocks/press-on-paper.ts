import { Selection, TextSelection } from '@tiptap/pm/state';
import type { EditorView } from '@tiptap/pm/view';

/** What lies around the text on its paper: the margins, and what is empty below the last line. */
const PAPER = '.sheet, [data-paper]';

/** A press on the paper beside or below the text puts the cursor into the nearest line; with Shift it marks up to there. */
export function pressOnPaper(view: EditorView, event: MouseEvent): void {
  const target = event.target as Element;
  if (event.button !== 0 || !view.editable || view.dom.contains(target) || !target.closest(PAPER))
    return;
  // The focus would leave the text.
  event.preventDefault();
  const { left, right } = view.dom.getBoundingClientRect();
  const within = Math.min(Math.max(event.clientX, left + 1), right - 1);
  const at = view.posAtCoords({ left: within, top: event.clientY });
  const { doc, selection, tr } = view.state;
  const place = doc.resolve(at?.pos ?? doc.content.size);
  view.focus();
  view.dispatch(
    tr.setSelection(
      event.shiftKey
        ? TextSelection.between(selection.$anchor, place)
        : Selection.near(place, at ? 1 : -1),
    ),
  );
}
