import { type Form, usualCaption } from '@tether/contract';
import { type Editor, useEditorState } from '@tiptap/react';
import { captionObject, captionOf } from '../report/objectCommands.ts';
import { SelectField } from '../ui/SelectField.tsx';

/** Whether an object has a caption, and as what it is counted. */
export function CaptionField(props: {
  editor: Editor;
  tetherId: string;
  form: Form;
  isAllowed: boolean;
}) {
  const { editor, tetherId, form, isAllowed } = props;
  const kind = useEditorState({ editor, selector: (now) => captionOf(now.editor, tetherId) });
  const usual = usualCaption(form);
  const options = [
    { value: 'none' as const, label: 'none' },
    { value: 'table' as const, label: 'as a table' },
    { value: 'figure' as const, label: 'as a figure' },
  ];
  return (
    <SelectField
      label="Caption"
      value={kind ?? 'none'}
      // What is usual for the form comes first.
      options={usual === 'table' ? options : [options[0]!, options[2]!, options[1]!]}
      disabled={!isAllowed}
      onChange={(wanted) => captionObject(editor, tetherId, wanted === 'none' ? null : wanted)}
    />
  );
}
