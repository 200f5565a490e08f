import { MOST_COMMENT } from '@tether/documents';
import { type KeyboardEvent, type ReactNode, useState } from 'react';
import { Button } from '../../ui/Button.tsx';

/** Takes what somebody says; Ctrl+Enter sends it. */
export function CommentField(props: {
  label: string;
  action: string;
  isFirst?: boolean;
  onSaid: (words: string) => void;
  /** What else can be done, beside the button. */
  children?: ReactNode;
}) {
  const { label, action, isFirst = false, onSaid, children } = props;
  const [words, setWords] = useState('');
  const say = () => {
    const said = words.trim();
    if (said === '') return;
    setWords('');
    onSaid(said);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey)) return;
    event.preventDefault();
    say();
  };
  return (
    <div className="flex flex-col gap-1.5">
      <textarea
        aria-label={label}
        placeholder={label}
        title="Ctrl+Enter sends it"
        value={words}
        rows={isFirst ? 4 : 2}
        maxLength={MOST_COMMENT}
        // biome-ignore lint/a11y/noAutofocus: the box was opened to write in it
        autoFocus={isFirst}
        onChange={({ target }) => setWords(target.value)}
        onKeyDown={onKeyDown}
        className="w-full resize-y rounded-box border border-hairline px-2 py-1"
      />
      <div className="flex gap-2">
        <Button kind={isFirst ? 'primary' : 'plain'} disabled={words.trim() === ''} onClick={say}>
          {action}
        </Button>
        {children}
      </div>
    </div>
  );
}
