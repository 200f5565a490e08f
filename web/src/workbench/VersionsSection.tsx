import type { DocumentVersion } from '@tether/contract';
import type { Editor } from '@tiptap/react';
import { useState } from 'react';
import { faultOf, useVersionQuery, useVersionsQuery } from '../app/api.ts';
import { useMayChange } from '../app/useMayChange.ts';
import { bringBack } from '../report/bringIn.ts';
import { WholeText } from '../report/Thumbnail.tsx';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { Moment } from '../ui/Moment.tsx';
import { QuestionBox } from '../ui/QuestionBox.tsx';

const WHY_WORDS: Record<DocumentVersion['why'], string> = {
  'put aside': 'put aside for what somebody else had saved',
};

/** States of the text that were kept beside the current one; nothing where there are none. */
export function VersionsSection(props: { documentId: string; editor: Editor }) {
  const { documentId, editor } = props;
  const { data: versions = [] } = useVersionsQuery(documentId);
  const [chosen, setChosen] = useState<DocumentVersion | null>(null);
  if (versions.length === 0) return null;
  return (
    <section className="mt-4 border-t border-hairline pt-3">
      <h3 className="mb-1.5 text-sm font-semibold text-muted">Versions kept</h3>
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
        <Version
          documentId={documentId}
          version={chosen}
          editor={editor}
          onClose={() => setChosen(null)}
        />
      )}
    </section>
  );
}

/** One kept state, to be looked at and brought back. */
function Version(props: {
  documentId: string;
  version: DocumentVersion;
  editor: Editor;
  onClose: () => void;
}) {
  const { documentId, version, editor, onClose } = props;
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
      <section
        aria-label="What it said"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it is scrolled with the keyboard
        tabIndex={0}
        className="min-h-0 flex-1 overflow-auto border border-hairline bg-mist p-4"
      >
        {content && <WholeText documentId={documentId} content={content} />}
      </section>
      <div className="flex gap-2">
        <Button
          kind="primary"
          disabled={!isAllowed || !content}
          title={whyNot}
          onClick={() => {
            if (content) bringBack(editor, content);
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
