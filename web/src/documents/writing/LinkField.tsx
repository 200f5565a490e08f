import { leadOf } from '@tether/documents';
import { type Editor, useEditorState } from '@tiptap/react';
import { Link2 } from 'lucide-react';
import { useState } from 'react';
import { Button } from '../../ui/Button.tsx';
import { IconButton } from '../../ui/IconButton.tsx';
import { QuestionBox } from '../../ui/QuestionBox.tsx';

/** Leads words to an address. */
export function LinkField(props: {
  editor: Editor;
  className?: string;
  /** Does what is done to the text, where it is to be undone by itself. */
  asStep?: (act: () => void) => void;
  /** Told when the address is asked for, and when it no longer is. */
  onAsking?: (isAsking: boolean) => void;
}) {
  const { editor, className, asStep = (act) => act(), onAsking } = props;
  const [isOpen, setOpen] = useState(false);
  const [refused, setRefused] = useState(false);
  const address = useEditorState({
    editor,
    selector: ({ editor: now }) => (now.getAttributes('link').href as string | undefined) ?? null,
  });
  const ask = (isAsked: boolean) => {
    onAsking?.(isAsked);
    setRefused(false);
    setOpen(isAsked);
  };
  const set = (typed: string) => {
    const href = typed === '' ? null : leadOf(typed);
    if (typed !== '' && href === null) return setRefused(true);
    asStep(() => setLink(editor, href, typed));
    setOpen(false);
    // The box that closes gives the focus back to its button; work goes on in the text.
    requestAnimationFrame(() => {
      editor.view.focus();
      onAsking?.(false);
    });
  };
  return (
    <>
      <IconButton
        icon={Link2}
        label="Link"
        isOn={address !== null}
        className={className}
        onClick={() => ask(true)}
      />
      {isOpen && (
        // biome-ignore lint/a11y/noStaticElementInteractions: only the way back out of the box, which is its own
        <div
          className="contents"
          // Before it comes to what is around the text, which has a meaning of its own for it.
          onKeyDown={(event) => {
            if (event.key !== 'Escape') return;
            event.stopPropagation();
            ask(false);
          }}
        >
          <QuestionBox title="Where the words lead" onClose={() => ask(false)}>
            <form
              className="flex flex-col gap-3"
              onSubmit={(event) => {
                event.preventDefault();
                set(String(new FormData(event.currentTarget).get('address')).trim());
              }}
            >
              <label className="flex flex-col gap-1 text-sm font-semibold">
                Address
                <input
                  name="address"
                  // biome-ignore lint/a11y/noAutofocus: it was asked for to be typed in
                  autoFocus
                  placeholder="https://"
                  defaultValue={address ?? ''}
                  aria-invalid={refused}
                  maxLength={1_900}
                  className="h-8 rounded-box border border-hairline px-2 font-normal"
                />
              </label>
              {refused && (
                <p role="alert" className="text-sm text-adrift">
                  Words cannot lead to this. Give an address of a page, as “https://…”, or of a
                  mailbox; spaces in it are written “%20”.
                </p>
              )}
              <p className="text-sm text-muted">
                A click with Ctrl opens it. Without words chosen, the address itself is put in.
              </p>
              <div className="flex gap-2">
                <Button kind="primary" type="submit">
                  Set the link
                </Button>
                {address !== null && <Button onClick={() => set('')}>Take it off</Button>}
              </div>
            </form>
          </QuestionBox>
        </div>
      )}
    </>
  );
}

/** Gives the chosen words an address, takes it off them where it is null, or puts what was typed in, which leads there. */
function setLink(editor: Editor, href: string | null, typed: string): void {
  const chain = editor.chain().focus();
  if (href === null) {
    chain.extendMarkRange('link').unsetLink().run();
    return;
  }
  if (editor.state.selection.empty && !editor.isActive('link')) {
    const marks = [{ type: 'link', attrs: { href } }];
    chain.insertContent({ type: 'text', text: typed, marks }).run();
  } else chain.extendMarkRange('link').setLink({ href }).run();
}
