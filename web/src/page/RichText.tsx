import { PLACED_INLINE, type RichBlock, type RichInline } from '@tether/documents';
import { createElement, Fragment, type ReactNode } from 'react';

type Marks = NonNullable<Extract<RichInline, { type: 'text' }>['marks']>[number]['type'];

const TAGS: Record<Marks, string> = {
  bold: 'strong',
  italic: 'em',
  underline: 'u',
  strike: 's',
  subscript: 'sub',
  superscript: 'sup',
};

/** What is written in a text on a page, only to be looked at. The signs of lists are letters, so that they go wherever it goes. */
export function RichText(props: {
  blocks: readonly RichBlock[];
  /** Draws a value in the line. */
  value: (tetherId: string) => ReactNode;
}): ReactNode {
  return props.blocks.map((block, at) => <Block key={at} block={block} value={props.value} />);
}

function Block({ block, value }: { block: RichBlock; value: (tetherId: string) => ReactNode }) {
  if (block.type === 'paragraph') {
    const content = block.content ?? [];
    return (
      <p>
        {content.map((inline, at) => (
          <Inline key={at} inline={inline} value={value} />
        ))}
        {content.length === 0 && <br />}
      </p>
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
          <RichText blocks={content} value={value} />
        </div>
      </li>
    )),
  );
}

function Inline({ inline, value }: { inline: RichInline; value: (tetherId: string) => ReactNode }) {
  if (inline.type === 'hardBreak') return <br />;
  if (inline.type === PLACED_INLINE) return value(inline.attrs.tetherId);
  return (inline.marks ?? []).reduce<ReactNode>(
    (inner, { type }) => createElement(TAGS[type], {}, inner),
    <Fragment>{inline.text}</Fragment>,
  );
}
