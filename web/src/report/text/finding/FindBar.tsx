import { type Editor, useEditorState } from '@tiptap/react';
import { ArrowDown, ArrowUp, X } from 'lucide-react';
import { type KeyboardEvent, useEffect, useState } from 'react';
import { Button } from '../../../ui/Button.tsx';
import { Tick } from '../../../ui/fields/Tick.tsx';
import { IconButton } from '../../../ui/IconButton.tsx';
import { asOneStep } from '../shared/shared-text.ts';
import { findingOf, goOn, look, replaceAt } from './finding.ts';

/** Finds words in the text, and puts others in their place. */
export function FindBar(props: { editor: Editor; onClose: () => void }) {
  const { editor, onClose } = props;
  const [words, setWords] = useState('');
  const [other, setOther] = useState('');
  const [withCase, setWithCase] = useState(false);
  const { count, at } = useEditorState({
    editor,
    selector: ({ editor: now }) => {
      const found = findingOf(now.state);
      return { count: found.places.length, at: found.at };
    },
  });
  useEffect(() => {
    editor.view.dispatch(look(editor.state, words === '' ? null : { words, withCase }));
  }, [editor, words, withCase]);
  useEffect(
    () => () => {
      if (!editor.isDestroyed) editor.view.dispatch(look(editor.state, null));
    },
    [editor],
  );
  const go = (by: 1 | -1) => {
    const next = goOn(editor.state, by);
    if (next) editor.view.dispatch(next);
  };
  const replace = (which: 'this' | 'all') => {
    const { places, at: here } = findingOf(editor.state);
    const chosen = which === 'all' ? places : places.slice(here, here + 1);
    if (chosen.length === 0) return;
    asOneStep(editor.storage.sharedText.steps, () =>
      editor.view.dispatch(replaceAt(editor.state.tr, chosen, other).scrollIntoView()),
    );
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === 'Escape') onClose();
    if (event.key !== 'Enter' || !(event.target instanceof HTMLInputElement)) return;
    event.preventDefault();
    if (event.target.name === 'other') replace('this');
    else go(event.shiftKey ? -1 : 1);
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: it hears the keys of its fields
    <search
      aria-label="Find and replace"
      onKeyDown={onKeyDown}
      className="flex shrink-0 flex-wrap items-center gap-2 border-b border-hairline bg-white px-4 py-2"
    >
      <input
        aria-label="Find"
        placeholder="Find"
        // biome-ignore lint/a11y/noAutofocus: it was opened to be typed in
        autoFocus
        value={words}
        onChange={(event) => setWords(event.target.value)}
        className="h-8 w-44 rounded-box border border-hairline px-2"
      />
      <span role="status" className="w-20 text-muted">
        {words === '' ? '' : count === 0 ? 'Not found' : `${at + 1} of ${count}`}
      </span>
      <IconButton
        icon={ArrowUp}
        label="Previous match"
        disabled={count === 0}
        onClick={() => go(-1)}
      />
      <IconButton
        icon={ArrowDown}
        label="Next match"
        disabled={count === 0}
        onClick={() => go(1)}
      />
      <Tick isOn={withCase} onChange={setWithCase}>
        Match capitals
      </Tick>
      <input
        aria-label="Replace with"
        placeholder="Replace with"
        name="other"
        value={other}
        onChange={(event) => setOther(event.target.value)}
        className="h-8 w-44 rounded-box border border-hairline px-2"
      />
      <Button disabled={count === 0} onClick={() => replace('this')}>
        Replace it
      </Button>
      <Button disabled={count === 0} onClick={() => replace('all')}>
        Replace all {count > 0 ? count : ''}
      </Button>
      <IconButton icon={X} label="Close find and replace" className="ml-auto" onClick={onClose} />
    </search>
  );
}
