import type { DocumentDetail, DocumentVersion } from '@tether/contract';
import { Suspense, useState } from 'react';
import type { Surface } from '../documents/surface.ts';
import { KIND_SCREENS } from '../kinds/kinds.tsx';
import {
  faultOf,
  useKeepVersionMutation,
  useVersionQuery,
  useVersionsQuery,
} from '../state/api.ts';
import { useMayChange } from '../state/useMayChange.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { ChoiceField } from '../ui/fields/ChoiceField.tsx';
import { Moment } from '../ui/Moment.tsx';
import { QuestionBox } from '../ui/QuestionBox.tsx';

const WHY_WORDS: Record<DocumentVersion['why'], string> = {
  'put aside': 'put aside for what somebody else had saved',
  kept: 'kept',
};

/** States of the text that were kept beside the current one, and the way to keep another one. */
export function VersionsSection(props: { saved: DocumentDetail; surface: Surface }) {
  const { saved, surface } = props;
  const documentId = saved.id;
  const { data: versions = [] } = useVersionsQuery(documentId);
  const [chosen, setChosen] = useState<DocumentVersion | null>(null);
  const [keep, { isLoading, error }] = useKeepVersionMutation();
  const { isAllowed, whyNot } = useMayChange();
  return (
    <section className="mt-4 border-t border-hairline pt-3">
      <h3 className="mb-1.5 text-sm font-semibold text-muted">Versions kept</h3>
      <Button
        disabled={!isAllowed || isLoading}
        title={whyNot}
        className="mb-2"
        onClick={() => void keep({ id: documentId, why: 'kept', content: surface.content() })}
      >
        Keep it as it is now
      </Button>
      {error && <FaultNote fault={faultOf(error)} />}
      <ol className="flex flex-col gap-1">
        {versions.map((version) => (
          <li key={version.id}>
            <button
              type="button"
              className="w-full text-left hover:bg-mist"
              onClick={() => setChosen(version)}
            >
              <span className="font-semibold">
                <Moment at={version.at} />
              </span>
              {version.by && ` by ${version.by}`}
              <span className="block text-muted">{WHY_WORDS[version.why]}</span>
            </button>
          </li>
        ))}
      </ol>
      {chosen && (
        <Version saved={saved} version={chosen} surface={surface} onClose={() => setChosen(null)} />
      )}
    </section>
  );
}

/** One kept state, to be looked at and brought back. */
function Version(props: {
  saved: DocumentDetail;
  version: DocumentVersion;
  surface: Surface;
  onClose: () => void;
}) {
  const { saved, version, surface, onClose } = props;
  const documentId = saved.id;
  const { Whole, Compared } = KIND_SCREENS[saved.kind];
  const [isCompared, setCompared] = useState(false);
  const [now] = useState(() => surface.content());
  const { isAllowed, whyNot } = useMayChange();
  const { data, error } = useVersionQuery({ id: documentId, version: version.id });
  const content = data?.content;
  return (
    <QuestionBox title={`Text of ${version.by ?? 'somebody'}`} isWide onClose={onClose}>
      <p className="text-muted">
        <Moment at={version.at} />, {WHY_WORDS[version.why]}. Brought back it takes the place of the
        text that stands now; undo gives that back.
      </p>
      {error && <FaultNote fault={faultOf(error)} />}
      <ChoiceField
        label="Show"
        value={isCompared ? 'compared' : 'whole'}
        options={[
          { value: 'whole', label: 'what it said' },
          { value: 'compared', label: 'what changed since' },
        ]}
        onChange={(shown) => setCompared(shown === 'compared')}
      />
      <section
        aria-label={isCompared ? 'What changed since' : 'What it said'}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it is scrolled with the keyboard
        tabIndex={0}
        className="min-h-0 flex-1 overflow-auto border border-hairline bg-mist p-4"
      >
        {content && !isCompared && (
          <Suspense fallback={null}>
            <Whole documentId={documentId} content={content} />
          </Suspense>
        )}
        {content && isCompared && (
          <Suspense fallback={<p className="text-muted">Comparing …</p>}>
            <Compared documentId={documentId} before={content} after={now} />
          </Suspense>
        )}
      </section>
      <div className="flex gap-2">
        <Button
          kind="primary"
          disabled={!isAllowed || !content}
          title={whyNot}
          onClick={() => {
            if (content) surface.bringBack(content);
            onClose();
          }}
        >
          Bring it back
        </Button>
        <Button onClick={onClose}>Close</Button>
      </div>
    </QuestionBox>
  );
}
