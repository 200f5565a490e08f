import { PIXELS_PER_MM } from '@tether/core';
import { CAPTIONED_NODE, type PictureAttributes } from '@tether/documents';
import { type NodeViewProps, NodeViewWrapper, useEditorState } from '@tiptap/react';
import { type DragEvent, useEffect, useRef, useState } from 'react';
import { CornerHandle } from '../../../documents/object/SizeHandles.tsx';
import { pictureAddress } from '../../../documents/pictures/picture-address.ts';
import { facsimileSize } from '../../../placed/as-dressed.ts';
import { Button } from '../../../ui/Button.tsx';
import { useReportAround } from '../../ReportContext.tsx';
import { captionPicture } from './caption-picture.ts';
import { dragCaptioned, leaveSelected, selectAt } from './object-commands.ts';

/** A picture in the text; while it is selected, what it shows can be said, and its size changed. */
export function Picture({ node, selected, editor, getPos, updateAttributes }: NodeViewProps) {
  const { hash, alt, pixelWidth, pixelHeight, width } = node.attrs as PictureAttributes;
  const { sheet } = useReportAround();
  const size = facsimileSize({ width: pixelWidth, height: pixelHeight }, width ?? undefined, {
    width: sheet.textWidth,
    height: sheet.textHeight,
  });
  const place = getPos();
  const $place = place === undefined ? null : editor.state.doc.resolve(place);
  const isCaptioned = $place?.parent.type.name === CAPTIONED_NODE;
  // With its caption it is selected as one thing.
  const from = useEditorState({ editor, selector: (now) => now.editor.state.selection.from });
  const isChosen = selected || (isCaptioned && from === $place!.before());
  const isChangeable = isChosen && editor.isEditable;
  return (
    <NodeViewWrapper
      className={`picture relative w-fit max-w-full rounded-[2px] outline-offset-4 ${isChosen ? 'outline-2 outline-rope' : ''}`}
    >
      <img
        src={pictureAddress(hash)}
        alt={alt || 'Picture without a description yet'}
        {...size}
        {...(isCaptioned
          ? {
              draggable: editor.isEditable,
              onDragStart: ({ nativeEvent }: DragEvent) =>
                place !== undefined && dragCaptioned(editor, place, nativeEvent),
              onClick: () => place !== undefined && selectAt(editor, place),
            }
          : { draggable: false, 'data-drag-handle': true })}
      />
      {isChangeable && (
        <CornerHandle
          isChart={false}
          onResize={({ width: millimetres }) => updateAttributes({ width: millimetres ?? null })}
        />
      )}
      {isChangeable && (
        <PictureBar
          alt={alt}
          onAlt={(words) => {
            if (words !== alt) updateAttributes({ alt: words });
          }}
          onDone={() => {
            leaveSelected(editor.view);
            editor.view.focus();
          }}
          onCaption={
            isCaptioned || place === undefined ? null : () => captionPicture(editor, place, true)
          }
          onNoCaption={
            !isCaptioned || place === undefined ? null : () => captionPicture(editor, place, false)
          }
          onNatural={width === null ? null : () => updateAttributes({ width: null })}
          millimetres={Math.round(size.width / PIXELS_PER_MM)}
        />
      )}
    </NodeViewWrapper>
  );
}

function PictureBar(props: {
  alt: string;
  onAlt: (words: string) => void;
  onDone: () => void;
  onCaption: (() => void) | null;
  onNoCaption: (() => void) | null;
  onNatural: (() => void) | null;
  millimetres: number;
}) {
  const { alt, onAlt, onDone, onCaption, onNoCaption, onNatural, millimetres } = props;
  const [words, setWords] = useState(alt);
  const field = useRef<HTMLInputElement>(null);
  // Asked for where nobody said it yet: whoever put the picture in knows best.
  useEffect(() => {
    if (alt !== '') return;
    field.current?.focus({ preventScroll: true });
    // Once the pages are broken around it.
    const timer = setTimeout(() => field.current?.scrollIntoView({ block: 'nearest' }), 100);
    return () => clearTimeout(timer);
  }, [alt]);
  return (
    <div
      contentEditable={false}
      className="not-printed absolute top-full left-0 z-20 mt-2 flex w-[520px] items-center gap-2 rounded-box border border-hairline bg-white px-2 py-1.5 font-sans text-[13px] leading-5 shadow-paper"
    >
      <label className="flex min-w-0 flex-1 items-center gap-2">
        <span className="whitespace-nowrap">What it shows</span>
        <input
          ref={field}
          value={words}
          maxLength={500}
          placeholder="For readers who cannot see it"
          className="min-w-0 flex-1 rounded-box border border-hairline px-2 py-0.5"
          onChange={({ target }) => setWords(target.value)}
          onBlur={() => onAlt(words.trim())}
          onKeyDown={(event) => {
            if (event.key !== 'Enter' && event.key !== 'Escape') return;
            event.preventDefault();
            if (event.key === 'Enter') onAlt(words.trim());
            onDone();
          }}
        />
      </label>
      <span className="figures whitespace-nowrap text-muted">{millimetres} mm</span>
      {onNatural && <Button onClick={onNatural}>Its own size</Button>}
      {onCaption && <Button onClick={onCaption}>Caption</Button>}
      {onNoCaption && <Button onClick={onNoCaption}>No caption</Button>}
    </div>
  );
}
