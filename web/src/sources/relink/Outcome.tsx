import type { RelinkSeen } from '@tether/contract';

/** What an object would take from the other file, and what would be other then. */
export function Outcome({ object }: { object: RelinkSeen }) {
  const { place, how, isCertain, reasons, summary, fault } = object;
  if (fault) {
    return (
      <div className="min-w-0 flex-1 text-adrift">
        <p>{fault.message}</p>
        <p className="text-muted">It stays as it is.</p>
      </div>
    );
  }
  return (
    <div className="min-w-0 flex-1">
      <p>
        <span className="font-mono text-[12px]">{place}</span>{' '}
        {how === 'elsewhere' && !isCertain && (
          <span className="font-semibold text-behind">look whether this is it</span>
        )}
      </p>
      <p>
        {summary === null ? 'It shows the same there.' : `Different from what it shows: ${summary}`}
      </p>
      {reasons.length > 0 && <p className="text-muted">{reasons.join(' ')}</p>}
    </div>
  );
}
