import { Link } from '@tiptap/extension-link';
import type { EditorView } from '@tiptap/pm/view';

/**
 * Words that lead somewhere. A click puts the cursor into them; see `followsLink`. What is typed right beside them does not
 * belong to them: an address that is typed on would be shown, but not led to.
 */
export const LINKS = Link.extend({ inclusive: () => false }).configure({
  openOnClick: false,
  defaultProtocol: 'https',
  HTMLAttributes: { class: null, target: null, rel: 'noopener noreferrer' },
});

/** Opens a link in a window of its own: by a click with Ctrl where one writes, by any click where one reads. */
export function followsLink(view: EditorView, { target, ctrlKey, metaKey }: MouseEvent): boolean {
  const link = target instanceof Element ? target.closest('a[href]') : null;
  if (!(link instanceof HTMLAnchorElement) || link.closest('[data-tether-id]')) return false;
  if (view.editable && !ctrlKey && !metaKey) return false;
  window.open(link.href, '_blank', 'noopener,noreferrer');
  return true;
}
