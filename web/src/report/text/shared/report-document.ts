import { type ReportSettings, reportSettings } from '@tether/documents';
import { Node } from '@tiptap/core';
import type { Editor } from '@tiptap/react';

/** The top node of a report: its text, and what is settled once for the document, as `sharedSettings` has it. */
export const ReportDocument = Node.create({
  name: 'doc',
  topNode: true,
  content: 'block+',
  addAttributes: () => ({
    language: { default: null },
    paper: { default: null },
    look: { default: null },
    header: { default: null },
    footer: { default: null },
  }),
});

/** What is settled for the document in the editor. What it does not say is as usual. */
export function readSettings(editor: Editor): ReportSettings {
  const said = Object.entries(editor.state.doc.attrs).filter(([, value]) => value !== null);
  return reportSettings({ attrs: Object.fromEntries(said) });
}
