import { type DocumentNode, PLACED_NODE, type PlacedAttributes } from '@tether/contract';
import type { ReactNode } from 'react';
import { useSnapshotQuery, useTethersQuery } from '../app/api.ts';
import { PlacedTable } from '../placed/PlacedTable.tsx';

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
    case PLACED_NODE: {
      const { tetherId, copyOf } = node.attrs as unknown as PlacedAttributes;
      return <Figures documentId={documentId} tetherId={tetherId} copyOf={copyOf ?? null} />;
    }
    default:
      return <p>{inner}</p>;
  }
}

function Figures(props: { documentId: string; tetherId: string; copyOf: string | null }) {
  const { base } = useTethersQuery(props.documentId, {
    selectFromResult: ({ data }) => ({
      base: data?.find(({ id }) => id === props.tetherId || id === props.copyOf)?.base,
    }),
  });
  const { data: snapshot } = useSnapshotQuery(base ?? '', { skip: base === undefined });
  return (
    <div className="placed-object">
      {snapshot && <PlacedTable snapshot={snapshot} label="" maxRows={30} />}
    </div>
  );
}
