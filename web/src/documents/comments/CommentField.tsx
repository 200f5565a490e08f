import { MOST_COMMENT } from '@tether/documents';
import { type KeyboardEvent, useState } from 'react';
import { Button } from '../../ui/Button.tsx';

/** Takes what somebody says; Enter with Ctrl sends it. */
export function CommentField(props: {
  label: string;
  action: string;
  isFirst?: boolean;
  onSaid: (words: string) => void;
}) {
  const { label, action, isFirst = false, onSaid } = props;
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
        title="Enter with Ctrl sends it"
        value={words}
        rows={isFirst ? 4 : 2}
        maxLength={MOST_COMMENT}
        // biome-ignore lint/a11y/noAutofocus: the box was opened to write in it
        autoFocus={isFirst}
        onChange={({ target }) => setWords(target.value)}
        onKeyDown={onKeyDown}
        className="w-full resize-y rounded-box border border-hairline px-2 py-1"
      />
      <Button
        kind={isFirst ? 'primary' : 'plain'}
        className="self-start"
        disabled={words.trim() === ''}
        onClick={say}
      >
        {action}
      </Button>
    </div>
  );
}
