import {
  type DocumentNode,
  PLACED_INLINE,
  PLACED_NODE,
  type PlacedAttributes,
  placedAttributesSchema,
} from '@tether/contract';
import type { ReactNode } from 'react';
import { useSnapshotQuery, useTethersQuery } from '../app/api.ts';
import { PlacedChart } from '../placed/PlacedChart.tsx';
import { PlacedTable } from '../placed/PlacedTable.tsx';
import { valueText } from '../placed/valueText.ts';

/** The first page of a report, small: with the figures it shows now. */
export function Thumbnail({
  documentId,
  content,
}: {
  documentId: string;
  content: DocumentNode[];
}) {
  return (
    <div
      aria-hidden
      inert
      className="relative h-[150px] overflow-hidden border border-hairline bg-white"
    >
      <div className="paper-text absolute top-0 left-1/2 w-[794px] origin-top -translate-x-1/2 scale-[0.36] px-[94px] py-[60px]">
        {content.slice(0, 12).map((node, index) => (
          <Block key={index} node={node} documentId={documentId} />
        ))}
      </div>
    </div>
  );
}

function Block({ node, documentId }: { node: DocumentNode; documentId: string }): ReactNode {
  const inner = node.content?.map((child, index) => (
    <Block key={index} node={child} documentId={documentId} />
  ));
  switch (node.type) {
    case 'text':
      return node.marks?.some(({ type }) => type === 'bold') ? <b>{node.text}</b> : node.text;
    case 'heading': {
      const Heading = `h${Math.min(3, Number(node.attrs?.level ?? 1))}` as 'h1' | 'h2' | 'h3';
      return <Heading>{inner}</Heading>;
    }
    case 'bulletList':
      return <ul>{inner}</ul>;
    case 'orderedList':
      return <ol>{inner}</ol>;
    case 'listItem':
      return <li>{inner}</li>;
    case PLACED_NODE:
    case PLACED_INLINE: {
      const attributes = placedAttributesSchema.safeParse(node.attrs);
      return attributes.success ? (
        <Figures documentId={documentId} placed={attributes.data} />
      ) : null;
    }
    default:
      return <p>{inner}</p>;
  }
}

function Figures({ documentId, placed }: { documentId: string; placed: PlacedAttributes }) {
  const { base } = useTethersQuery(documentId, {
    selectFromResult: ({ data }) => ({
      base: data?.find(({ id }) => id === placed.tetherId || id === placed.copyOf)?.base,
    }),
  });
  const { data: snapshot } = useSnapshotQuery(base ?? '', { skip: base === undefined });
  if (!snapshot || placed.form === 'tag') return null;
  if (placed.form === 'value') return valueText(snapshot, placed.dressing.value ?? {});
  return (
    <div className="placed-object">
      {placed.form === 'chart' ? (
        <PlacedChart snapshot={snapshot} making={placed.dressing.chart} label="" />
      ) : (
        <PlacedTable
          snapshot={snapshot}
          label=""
          maxRows={30}
          {...(placed.dressing.table ? { look: placed.dressing.table } : {})}
        />
      )}
    </div>
  );
}
