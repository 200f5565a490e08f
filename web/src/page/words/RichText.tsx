import {
  isLine,
  PLACED_INLINE,
  type RichBlock,
  type RichInline,
  type RichMark,
} from '@tether/documents';
import { createElement, Fragment, type MouseEvent, type ReactNode } from 'react';

const TAGS: Record<Exclude<RichMark['type'], 'link'>, string> = {
  bold: 'strong',
  italic: 'em',
  underline: 'u',
  strike: 's',
  subscript: 'sub',
  superscript: 'sup',
};

/** Marks words that lead to an address. */
const LEADS = 'data-leads';

/** Whether a press on a page is meant for words that lead somewhere: with Ctrl where one writes, any where one reads. */
export function isForLink(
  event: { target: EventTarget; ctrlKey: boolean; metaKey: boolean },
  isEditable: boolean,
): boolean {
  const isOnLink = (event.target as Element).closest(`[${LEADS}]`) !== null;
  return isOnLink && (!isEditable || event.ctrlKey || event.metaKey);
}

/** Whoever follows a link does not also do what a click on the page does; by Enter it is always meant. */
function pressed(event: MouseEvent, isEditable: boolean): void {
  const isFollowed = event.detail === 0 || isForLink(event, isEditable);
  if (isFollowed) event.stopPropagation();
  else event.preventDefault();
}

interface In {
  /** Draws a value in the line. */
  value: (tetherId: string) => ReactNode;
  /** Whether a click is for choosing the text, and leads nowhere. */
  isEditable: boolean;
}

/** What is written in a text on a page, only to be looked at. The signs of lists are letters, so that they go wherever it goes. */
export function RichText({ blocks, ...rest }: In & { blocks: readonly RichBlock[] }): ReactNode {
  return blocks.map((block, at) => <Block key={at} block={block} {...rest} />);
}

function Block({ block, ...rest }: In & { block: RichBlock }) {
  if (isLine(block)) {
    const content = block.content ?? [];
    return createElement(
      block.type === 'heading' ? `h${block.attrs.level}` : 'p',
      {},
      content.map((inline, at) => <Inline key={at} inline={inline} {...rest} />),
      content.length === 0 && <br />,
    );
  }
  const isNumbered = block.type === 'orderedList';
  return createElement(
    isNumbered ? 'ol' : 'ul',
    {},
    block.content.map(({ content }, at) => (
      <li key={at} className="flex">
        <span aria-hidden className="w-[1.4em] shrink-0">
          {isNumbered ? `${at + 1}.` : '•'}
        </span>
        <div className="min-w-0 flex-1">
          <RichText blocks={content} {...rest} />
        </div>
      </li>
    )),
  );
}

function Inline({ inline, value, isEditable }: In & { inline: RichInline }) {
  if (inline.type === 'hardBreak') return <br />;
  if (inline.type === PLACED_INLINE) return value(inline.attrs.tetherId);
  return (inline.marks ?? []).reduce<ReactNode>(
    (letters, mark) => marked(letters, mark, isEditable),
    <Fragment>{inline.text}</Fragment>,
  );
}

/** Letters as a mark has them. */
function marked(letters: ReactNode, mark: RichMark, isEditable: boolean): ReactNode {
  if (mark.type !== 'link') return createElement(TAGS[mark.type], {}, letters);
  return (
    <a
      href={mark.attrs.href}
      {...{ [LEADS]: '' }}
      target="_blank"
      rel="noopener noreferrer"
      draggable={false}
      className="underline underline-offset-2"
      onClick={(event) => pressed(event, isEditable)}
    >
      {letters}
    </a>
  );
}
