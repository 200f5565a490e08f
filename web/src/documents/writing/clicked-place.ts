import { Extension } from '@tiptap/core';
import { Plugin, PluginKey, TextSelection } from '@tiptap/pm/state';

/** How often the cursor was put somewhere while the words stayed as they are. */
const moved = new PluginKey<number>('clickedPlace');

/**
 * Puts the cursor where one clicked, even if the browser's word about it is lost. The browser tells of a new cursor a moment
 * after the press. When the text is drawn anew in that moment, for a page that was broken or for what a colleague wrote, the
 * editor's library writes the old cursor back over the new one. Where an object was selected, a letter that is typed in that
 * moment would still be meant for the object.
 */
export const ClickedPlace = Extension.create({
  name: 'clickedPlace',
  addProseMirrorPlugins: () => [clickedPlace()],
});

function clickedPlace(): Plugin<number> {
  let atPress = 0;
  return new Plugin<number>({
    key: moved,
    state: {
      init: () => 0,
      apply: ({ selectionSet, docChanged }, count) => count + Number(selectionSet && !docChanged),
    },
    props: {
      handleDOMEvents: {
        mousedown: (view) => {
          atPress = moved.getState(view.state) ?? 0;
        },
      },
      handleClick: (view, position, event) => {
        const { button, shiftKey, ctrlKey, metaKey, target } = event;
        if (button !== 0 || shiftKey || ctrlKey || metaKey) return false;
        // The browser told of it; or it sets none there, such as between two pages.
        if (moved.getState(view.state) !== atPress) return false;
        if (!(target instanceof HTMLElement && target.isContentEditable)) return false;
        const { tr, doc, selection } = view.state;
        if (!doc.resolve(position).parent.inlineContent) return false;
        const clicked = TextSelection.create(doc, position);
        if (!clicked.eq(selection)) view.dispatch(tr.setSelection(clicked));
        return false;
      },
    },
  });
}
