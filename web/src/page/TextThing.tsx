import { fontSizeFor, PIXELS_PER_MM } from '@tether/core';
import type { Thing } from '@tether/documents';
import { type CSSProperties, useEffect, useRef, useState } from 'react';
import { InMillimetres } from './DrawnThing.tsx';
import { CAPITALS, PAGE_FONT } from './page-letters.ts';

type Text = Extract<Thing, { kind: 'text' }>;

/** How the letters of a text are set. */
function letterStyle({ letters, align, bold, colour, role }: Text): CSSProperties {
  // Texts of slides follow the look of their deck, which lies in the style of the paper.
  const follows =
    role === 'title' ? ROLE_STYLES.title : role === 'words' ? ROLE_STYLES.words : null;
  return {
    fontFamily: PAGE_FONT,
    fontSize: fontSizeFor(letters, CAPITALS) * PIXELS_PER_MM,
    // Lines stand 1.6 times the height of capitals apart at least (ISO 3098-1:2015, table 2, b).
    lineHeight: 1.25,
    textAlign: align,
    fontWeight: bold ? 600 : 400,
    color: colour,
    ...follows,
  };
}

const ROLE_STYLES = {
  title: { fontFamily: 'var(--titles-face)', color: 'var(--titles-ink)', fontWeight: 600 },
  words: { fontFamily: 'var(--words-face)', color: 'var(--words-ink)' },
} satisfies Record<string, CSSProperties>;
/** Said in texts of slides that nobody has written yet; never printed. */
const EMPTY_WORDS = { title: 'Title', words: 'Words' };

/** Words on a page, and their leader line. */
export function TextThing(props: {
  thing: Text;
  isWriting: boolean;
  /** What was written; null where nothing is to change. */
  onWritten: (text: string | null) => void;
}) {
  const { thing, isWriting, onWritten } = props;
  const box = useRef<HTMLDivElement>(null);
  const [isCut, setCut] = useState(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is measured changes with the thing
  useEffect(() => {
    const element = box.current;
    setCut(element !== null && element.scrollHeight > element.clientHeight + 2);
  }, [thing]);
  return (
    <>
      {thing.leader && (
        <InMillimetres>
          <path
            d={`M0 ${thing.letters}H-2L${thing.leader.x} ${thing.leader.y}`}
            fill="none"
            stroke={thing.colour}
            strokeWidth={0.25}
          />
          <circle cx={thing.leader.x} cy={thing.leader.y} r={0.6} fill={thing.colour} />
        </InMillimetres>
      )}
      {isWriting ? (
        <Writing thing={thing} onWritten={onWritten} />
      ) : (
        <div
          ref={box}
          className="size-full break-words whitespace-pre-wrap"
          style={letterStyle(thing)}
        >
          {thing.text === '' && thing.role !== null ? (
            <span className="for-writers not-printed opacity-40">{EMPTY_WORDS[thing.role]}</span>
          ) : (
            thing.text
          )}
        </div>
      )}
      {isCut && !isWriting && (
        <p className="for-writers not-printed absolute top-full left-0 bg-white/90 font-sans text-[11px] whitespace-nowrap text-behind">
          The text goes over its box: it is printed whole.
        </p>
      )}
    </>
  );
}

function Writing({ thing, onWritten }: { thing: Text; onWritten: (text: string | null) => void }) {
  const [text, setText] = useState(thing.text);
  const isDone = useRef(false);
  const done = (written: string | null) => {
    if (isDone.current) return;
    isDone.current = true;
    onWritten(written === thing.text ? null : written);
  };
  return (
    <textarea
      // biome-ignore lint/a11y/noAutofocus: it was opened to be written in
      autoFocus
      aria-label="Words"
      value={text}
      onFocus={({ currentTarget }) => currentTarget.select()}
      onChange={(event) => setText(event.target.value)}
      onBlur={() => done(text)}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Escape') done(null);
        if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) done(text);
      }}
      onPointerDown={(event) => event.stopPropagation()}
      className="size-full min-h-full resize-none overflow-hidden bg-white outline-1 outline-rope"
      style={letterStyle(thing)}
    />
  );
}
