import type { ReportContent } from '@tether/documents';
import { useMemo } from 'react';
import { useTethersQuery } from '../state/api.ts';
import {
  type ComparedBlock,
  type ComparedPart,
  compareTexts,
} from './text/reading/compare-texts.ts';

const WORDS: Record<ComparedBlock['kind'], string> = {
  same: '',
  came: 'came',
  went: 'went',
  changed: 'changed',
  dressed: 'same words, other look',
};

/** What differs between two states of a report's text: blocks and words that went and came; what stayed is folded away. */
export function Compared(props: {
  documentId: string;
  before: ReportContent;
  after: ReportContent;
}) {
  const { documentId, before, after } = props;
  const { data: tethers = [] } = useTethersQuery(documentId);
  const blocks = useMemo(() => {
    const names = new Map(tethers.map(({ id, name }) => [id, name]));
    return compareTexts(before, after, (id) => names.get(id));
  }, [before, after, tethers]);
  const different = blocks.filter(({ kind }) => kind !== 'same').length;
  return (
    <div className="rounded-box bg-white p-5 font-serif text-[15px] leading-6">
      <p role="status" className="mb-3 font-sans text-base text-muted">
        {different === 0
          ? 'Nothing differs.'
          : different === 1
            ? 'One paragraph, item or object differs.'
            : `${different} paragraphs, items or objects differ.`}
      </p>
      {runsOf(blocks).map((run, index) =>
        'same' in run ? (
          <p key={index} className="my-2 font-sans text-sm text-muted">
            {run.same === 1 ? 'One that is the same' : `${run.same} that are the same`}
          </p>
        ) : (
          <div key={index} className="my-2 grid grid-cols-[96px_1fr] gap-3">
            <span className="pt-0.5 font-sans text-sm text-muted">{WORDS[run.kind]}</span>
            <p className="whitespace-pre-wrap">
              {run.parts.map((part, at) => (
                <Part key={at} part={part} />
              ))}
            </p>
          </div>
        ),
      )}
    </div>
  );
}

/** Blocks that are the same, counted where they stand together. */
function runsOf(blocks: readonly ComparedBlock[]): (ComparedBlock | { same: number })[] {
  const runs: (ComparedBlock | { same: number })[] = [];
  for (const each of blocks) {
    const last = runs.at(-1);
    if (each.kind !== 'same') runs.push(each);
    else if (last && 'same' in last) last.same++;
    else runs.push({ same: 1 });
  }
  return runs;
}

function Part({ part: { words, kind } }: { part: ComparedPart }) {
  if (kind === 'both') return words;
  return kind === 'came' ? (
    <ins className="bg-instep/15 decoration-instep">{words}</ins>
  ) : (
    <del className="bg-adrift/10 decoration-adrift">{words}</del>
  );
}
