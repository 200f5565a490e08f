import { Plugin } from '@tiptap/pm/state';

/**
 * Keeps React from walking through the whole text before each of its commits. It keeps what is selected in a focused element that
 * says of itself that it can be edited, and for that counts the letters before it: all tables of a long report, at every key
 * press. The editor keeps its own selection, so the text does not say so in this one property; the attribute stays.
 */
export const quickCommit = () =>
  new Plugin({
    view: ({ dom }) => {
      Object.defineProperty(dom, 'contentEditable', { configurable: true, get: () => 'inherit' });
      return {};
    },
  });
