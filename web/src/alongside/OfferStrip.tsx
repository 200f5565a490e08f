import type { CellsMatch } from '@tether/contract';
import { formatReference, type Sureness } from '@tether/core';
import { X } from 'lucide-react';
import type { Surface } from '../documents/surface.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { IconButton } from '../ui/IconButton.tsx';
import type { useIncomingCells } from './useIncomingCells.ts';

const SURENESS: Record<Sureness, string> = {
  sure: 'Surely',
  likely: 'Likely',
  perhaps: 'Perhaps',
};

/** What can still be said about cells that came into the text: fixed instead of live, growing, or tied to where they stand. */
export function OfferStrip(props: ReturnType<typeof useIncomingCells> & { surface: Surface }) {
  const { offer, surface, tie, fix, grow, close } = props;
  if (!offer) return null;
  return (
    <section
      aria-label="Pasted or dropped cells"
      className="flex shrink-0 flex-wrap items-center gap-2 border-t-2 border-rope bg-white px-4 py-2"
    >
      {offer.kind === 'placing' && (
        <p role="status">
          Placing <Where sheet={offer.cells.sheet} area={offer.cells.area} /> …
        </p>
      )}
      {offer.kind === 'failed' && <FaultNote fault={offer.fault} className="flex-1" />}
      {offer.kind === 'placed' && (
        <>
          <p role="status" className="mr-auto">
            <b>Live:</b> <Where sheet={offer.snapshot.sheet} area={offer.snapshot.area} /> of{' '}
            {offer.tether.source.path} stands in the text and follows these cells.
          </p>
          {offer.growing && (
            <Button onClick={() => void grow(offer.tether, offer.growing!)}>
              Follow new rows too
            </Button>
          )}
          {offer.isWhole && (
            <Button onClick={() => fix(surface, offer.tether.id, offer.snapshot)}>
              Fixed figures instead
            </Button>
          )}
        </>
      )}
      {offer.kind === 'looking' && (
        <p role="status" className="mr-auto">
          Looking for these {offer.count} cells among the sources …
        </p>
      )}
      {offer.kind === 'not found' && (
        <p role="status" className="mr-auto">
          No source holds these {offer.count} cells: they stand in the text as fixed figures.
        </p>
      )}
      {offer.kind === 'found' && (
        <ul className="flex min-w-0 flex-1 flex-col gap-1">
          {offer.matches.map((match) => (
            <li
              key={`${match.sourceId} ${match.sheet} ${match.area.top} ${match.area.left}`}
              className="flex items-center gap-2"
            >
              <p className="min-w-0 flex-1">
                <b>{SURENESS[match.sureness]}</b> from <Where {...match} /> of {match.path}:{' '}
                <span className="text-muted">{sharedWords(match)}</span>
              </p>
              <Button onClick={() => void tie(surface, offer.pasted, match)}>Make it live</Button>
            </li>
          ))}
        </ul>
      )}
      <IconButton
        icon={X}
        label={offer.kind === 'looking' ? 'Stop looking' : 'Leave it as it is'}
        className="self-start"
        onClick={close}
      />
    </section>
  );
}

function Where(place: Parameters<typeof formatReference>[0]) {
  const { sheet, area } = place;
  return <span className="font-mono text-[12px]">{formatReference({ sheet, area })}</span>;
}

function sharedWords({ same, of }: CellsMatch): string {
  return same === of
    ? `${of === 1 ? 'the cell is' : `all ${of} cells are`} the same`
    : `${same} of ${of} cells are the same`;
}
