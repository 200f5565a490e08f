import type { SourceSummary } from '@tether/contract';
import { useState } from 'react';
import { useCandidatesQuery, useUsesQuery } from '../../state/api.ts';
import { useMayChange } from '../../state/useMayChange.ts';
import { Button } from '../../ui/Button.tsx';
import { counted } from '../../ui/counted.ts';
import { CandidateList, RelinkBox } from './RelinkBox.tsx';

/** A source whose file is not there: where it may be now, and which objects wait for it. */
export function FindAgain({ source }: { source: SourceSummary }) {
  const { data: uses = [] } = useUsesQuery(source.id, { refetchOnMountOrArgChange: true });
  const { data: candidates } = useCandidatesQuery(source.id, { refetchOnMountOrArgChange: true });
  const { isAllowed, whyNot } = useMayChange();
  const [to, setTo] = useState<string | null>(null);
  if (uses.length === 0) return <p className="mt-4 text-muted">No object takes from it.</p>;
  return (
    <section aria-labelledby="find-again" className="mt-6 max-w-[720px]">
      <h2 id="find-again" className="text-[15px] font-semibold">
        Where it may be now
      </h2>
      <p className="mb-2 text-muted">
        {counted(uses.length, 'object')} {uses.length === 1 ? 'takes' : 'take'} from it and{' '}
        {uses.length === 1 ? 'keeps' : 'keep'} what was shown last.
      </p>
      <CandidateList candidates={candidates} onChoose={setTo} />
      <Button className="mt-3" disabled={!isAllowed} title={whyNot} onClick={() => setTo('')}>
        Choose another file …
      </Button>
      {to !== null && <RelinkBox source={source} to={to} onClose={() => setTo(null)} />}
    </section>
  );
}
