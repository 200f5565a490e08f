import type { EditorView } from '@tiptap/pm/view';

/** How the editor's library has links: a click puts the cursor into one; see `followsLink`. */
export const LINKS = {
  openOnClick: false,
  defaultProtocol: 'https',
  HTMLAttributes: { class: null, target: null, rel: 'noopener noreferrer' },
};

/** Opens a link in a window of its own: by a click with Ctrl where one writes, by any click where one reads. */
export function followsLink(view: EditorView, { target, ctrlKey, metaKey }: MouseEvent): boolean {
  const link = target instanceof Element ? target.closest('a[href]') : null;
  if (!(link instanceof HTMLAnchorElement) || link.closest('[data-tether-id]')) return false;
  if (view.editable && !ctrlKey && !metaKey) return false;
  window.open(link.href, '_blank', 'noopener,noreferrer');
  return true;
}
