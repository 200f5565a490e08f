import { fontSizeFor, PIXELS_PER_MM } from '@tether/core';
import { richOf, type TextThing as Text } from '@tether/documents';
import { TriangleAlert } from 'lucide-react';
import { type CSSProperties, useEffect, useRef, useState } from 'react';
import { InMillimetres } from '../drawn/DrawnShapes.tsx';
import { CAPITALS, PAGE_FONT } from '../drawn/page-letters.ts';
import type { PageSurface } from '../surface/page-surface.ts';
import { InlineValue } from './InlineValue.tsx';
import { RichText } from './RichText.tsx';
import { RichWriting } from './RichWriting.tsx';

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
  words: {
    fontFamily: 'var(--words-face)',
    color: 'var(--words-ink)',
    // Headings in them are set as titles are; those of other texts keep the letters of their text.
    '--heading-face': 'var(--titles-face)',
    '--heading-ink': 'var(--titles-ink)',
  },
} satisfies Record<string, CSSProperties & Record<`--${string}`, string>>;
/** Said in texts of slides that nobody has written yet; never printed. */
const EMPTY_WORDS = { title: 'Title', words: 'Words' };

/** Words on a page, and their leader line. */
export function TextThing(props: {
  documentId: string;
  surface: PageSurface;
  thing: Text;
  isWriting: boolean;
  /** Told when writing is done. */
  onWritten: () => void;
}) {
  const { documentId, surface, thing, isWriting, onWritten } = props;
  const box = useRef<HTMLDivElement>(null);
  const [isCut, setCut] = useState(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is measured changes with the thing
  useEffect(() => {
    // All texts of a page together, so that it is laid out once for them.
    const frame = requestAnimationFrame(() => {
      const element = box.current;
      setCut(element !== null && element.scrollHeight > element.clientHeight + 2);
    });
    return () => cancelAnimationFrame(frame);
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
        <RichWriting
          {...{ documentId, surface, thing }}
          onDone={onWritten}
          style={letterStyle(thing)}
        />
      ) : (
        <div
          ref={box}
          className="page-text size-full break-words whitespace-pre-wrap"
          style={letterStyle(thing)}
        >
          {thing.text === '' && thing.role !== null ? (
            <span className="for-writers not-printed opacity-40">{EMPTY_WORDS[thing.role]}</span>
          ) : (
            <RichText
              blocks={richOf(thing)}
              isEditable={surface.isEditable}
              value={(tetherId) => <InlineValue {...{ documentId, surface, tetherId }} />}
            />
          )}
        </div>
      )}
      {isCut && !isWriting && (
        <span
          role="img"
          title="The text goes over its box: it is printed whole."
          aria-label="The text goes over its box: it is printed whole."
          className="for-writers not-printed absolute -right-4 bottom-0 text-behind"
        >
          <TriangleAlert size={14} aria-hidden />
        </span>
      )}
    </>
  );
}
