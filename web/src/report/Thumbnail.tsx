import { PIXELS_PER_MM, sheetSize } from '@tether/core';
import {
  CAPTION_NODE,
  CAPTIONED_NODE,
  captionName,
  captionsOf,
  FOOTNOTE_NODE,
  type NumberedCaption,
  PAGE_BREAK_NODE,
  PICTURE_NODE,
  type PictureAttributes,
  PLACED_INLINE,
  PLACED_NODE,
  type Placement,
  placementSchema,
  REFERENCE_NODE,
  type ReportContent,
  type ReportNode,
  reportSettings,
} from '@tether/documents';
import { type CSSProperties, type ReactNode, useMemo } from 'react';
import { pictureAddress } from '../documents/pictures/picture-address.ts';
import { PlacedFace } from '../placed/PlacedFace.tsx';
import { valueText } from '../placed/value-text.ts';
import { useSnapshotQuery, useTethersQuery } from '../state/api.ts';
import { NO_DRESSINGS, ReportContext, useReportAround } from './ReportContext.tsx';
import type { Alignment } from './text/blocks/writing-marks.ts';

const SCALE = 0.36;

/** The head of a report, small: with the figures it shows now. */
export function Thumbnail(props: { documentId: string; content: ReportContent }) {
  const { documentId, content } = props;
  const { around, captions } = useText(documentId, content);
  const { width } = around.sheet;
  const { left, right } = around.settings.paper.margins;
  return (
    <div
      aria-hidden
      inert
      className="relative h-[150px] overflow-hidden border border-hairline bg-white"
    >
      <div
        className="paper-text absolute top-0 left-1/2 origin-top py-[60px]"
        style={{
          width,
          transform: `translateX(-50%) scale(${SCALE})`,
          paddingLeft: left * PIXELS_PER_MM,
          paddingRight: right * PIXELS_PER_MM,
        }}
      >
        <ReportContext.Provider value={around}>
          {content.content.slice(0, 12).map((node, index) => (
            <Block key={index} node={node} captions={captions} />
          ))}
        </ReportContext.Provider>
      </div>
    </div>
  );
}

/** The whole text of a report that only is looked at, on one sheet without an end. */
export function WholeText(props: { documentId: string; content: ReportContent }) {
  const { documentId, content } = props;
  const { around, captions } = useText(documentId, content);
  const { left, right } = around.settings.paper.margins;
  return (
    <div
      className="paper-text mx-auto border border-hairline bg-white py-10"
      style={{
        width: around.sheet.width,
        paddingLeft: left * PIXELS_PER_MM,
        paddingRight: right * PIXELS_PER_MM,
      }}
    >
      <ReportContext.Provider value={around}>
        {content.content.map((node, index) => (
          <Block key={index} node={node} captions={captions} />
        ))}
      </ReportContext.Provider>
    </div>
  );
}

function useText(documentId: string, content: ReportContent) {
  return useMemo(() => {
    const settings = reportSettings(content);
    const sheet = sheetSize(settings.paper);
    return {
      around: { id: documentId, settings, sheet, flow: null, faces: null, dressings: NO_DRESSINGS },
      captions: captionsOf(content),
    };
  }, [documentId, content]);
}

const MARK_TAGS: Partial<Record<string, 'b' | 'i' | 'u' | 's' | 'sub' | 'sup'>> = {
  bold: 'b',
  italic: 'i',
  underline: 'u',
  strike: 's',
  subscript: 'sub',
  superscript: 'sup',
};

/** Words within what they are marked as. */
function Marked({ marks, children }: { marks: readonly { type: string }[]; children: ReactNode }) {
  const [first, ...rest] = marks;
  if (!first) return children;
  const Tag = MARK_TAGS[first.type];
  const inner = <Marked marks={rest}>{children}</Marked>;
  return Tag ? <Tag>{inner}</Tag> : inner;
}

const sideOf = ({ attrs }: ReportNode): CSSProperties =>
  attrs?.align ? { textAlign: attrs.align as Exclude<Alignment, null> } : {};

interface BlockProps {
  node: ReportNode;
  captions: readonly NumberedCaption[];
  /** The object whose caption it is. */
  of?: string;
}

function Block({ node, captions, of }: BlockProps): ReactNode {
  const nameOf = (id: unknown) => {
    const found = captions.find(({ tetherId }) => tetherId === id);
    return found ? captionName(found) : '';
  };
  const object = node.content?.[0]?.attrs?.tetherId;
  const inner = node.content?.map((child, index) => (
    <Block
      key={index}
      node={child}
      captions={captions}
      {...(typeof object === 'string' ? { of: object } : {})}
    />
  ));
  switch (node.type) {
    case 'text':
      return <Marked marks={node.marks ?? []}>{node.text}</Marked>;
    case 'heading': {
      const Heading = `h${Math.min(3, Number(node.attrs?.level ?? 1))}` as 'h1' | 'h2' | 'h3';
      return <Heading style={sideOf(node)}>{inner}</Heading>;
    }
    case 'blockquote':
      return <blockquote>{inner}</blockquote>;
    case 'horizontalRule':
      return <hr />;
    case PICTURE_NODE: {
      const { hash, alt, pixelWidth, width } = node.attrs as unknown as PictureAttributes;
      const wide = width === null ? pixelWidth : width * PIXELS_PER_MM;
      return <img src={pictureAddress(hash)} alt={alt} className="max-w-full" width={wide} />;
    }
    case PAGE_BREAK_NODE:
      return null;
    case 'hardBreak':
      return <br />;
    case 'bulletList':
      return <ul>{inner}</ul>;
    case 'orderedList':
      return <ol>{inner}</ol>;
    case 'listItem':
      return <li>{inner}</li>;
    case 'table':
      return (
        <table className="fixed-table">
          <tbody>{inner}</tbody>
        </table>
      );
    case 'tableRow':
      return <tr>{inner}</tr>;
    case 'tableHeader':
    case 'tableCell': {
      const Cell = node.type === 'tableHeader' ? 'th' : 'td';
      const { colspan, rowspan } = (node.attrs ?? {}) as { colspan?: number; rowspan?: number };
      return (
        <Cell colSpan={colspan} rowSpan={rowspan}>
          {inner}
        </Cell>
      );
    }
    case CAPTIONED_NODE:
      return (
        <figure className="captioned" data-captioned={String(node.attrs?.kind)}>
          {inner}
        </figure>
      );
    case CAPTION_NODE:
      return (
        <figcaption className="caption" data-name={nameOf(of)}>
          {inner}
        </figcaption>
      );
    case FOOTNOTE_NODE:
      return <NoteInLine node={node} />;
    case REFERENCE_NODE:
      return nameOf(node.attrs?.to);
    case PLACED_NODE:
    case PLACED_INLINE: {
      const attributes = placementSchema.safeParse(node.attrs);
      return attributes.success ? <Figures placed={attributes.data} /> : null;
    }
    default:
      return <p style={sideOf(node)}>{inner}</p>;
  }
}

/** On a sheet without an end the words of a note stand in their line, small. */
function NoteInLine({ node }: { node: ReportNode }) {
  const words = node.content?.map(({ text }) => text).join('') ?? '';
  return <small className="text-muted"> [{words}]</small>;
}

function Figures({ placed }: { placed: Placement }) {
  const { id, settings, sheet } = useReportAround();
  const { shown } = useTethersQuery(id, {
    selectFromResult: ({ data }) => ({
      shown: data?.find((each) => each.id === placed.tetherId || each.id === placed.copyOf)?.shown,
    }),
  });
  const { data: snapshot } = useSnapshotQuery(shown ?? '', { skip: shown === undefined });
  const room = useMemo(() => ({ width: sheet.textWidth, height: sheet.textHeight }), [sheet]);
  if (!snapshot || placed.form === 'tag') return null;
  if (placed.form === 'value') return valueText(snapshot, placed.dressing.value ?? {});
  return (
    <div className="placed-object">
      <PlacedFace
        snapshot={snapshot}
        form={placed.form}
        dressing={placed.dressing}
        look={settings.look}
        room={room}
        label=""
        maxRows={30}
      />
    </div>
  );
}
