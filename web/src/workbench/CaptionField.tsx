import { type Form, usualCaption } from '@tether/contract';
import { type Editor, useEditorState } from '@tiptap/react';
import { captionObject, captionOf } from '../report/objectCommands.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';

/** Whether an object has a caption, and as what it is counted. */
export function CaptionField(props: {
  editor: Editor;
  tetherId: string;
  form: Form;
  isAllowed: boolean;
}) {
  const { editor, tetherId, form, isAllowed } = props;
  const kind = useEditorState({ editor, selector: (now) => captionOf(now.editor, tetherId) });
  const none = { value: 'none' as const, label: 'none' };
  const table = { value: 'table' as const, label: 'table' };
  const figure = { value: 'figure' as const, label: 'figure' };
  return (
    <ChoiceField
      label="Caption"
      value={kind ?? 'none'}
      // What is usual for the form comes first.
      options={usualCaption(form) === 'table' ? [none, table, figure] : [none, figure, table]}
      disabled={!isAllowed}
      onChange={(wanted, byPointer) => {
        captionObject(editor, tetherId, wanted === 'none' ? null : wanted);
        // Its words are typed next; who goes through the choices with the keyboard stays at them.
        if (byPointer && wanted !== 'none') queueMicrotask(() => editor.view.focus());
      }}
    />
  );
}
