import type { DocumentCard } from '@tether/contract';
import { Download } from 'lucide-react';
import { faultOf, useBundleContentsQuery } from '../state/api.ts';
import { Button } from '../ui/Button.tsx';
import { counted } from '../ui/counted.ts';
import { FaultNote } from '../ui/FaultNote.tsx';
import { QuestionBox } from '../ui/QuestionBox.tsx';
import { sizeText } from '../ui/size-text.ts';

/** Saves a document together with copies of its sources in one file. */
export function PackBox({ saved, onClose }: { saved: DocumentCard; onClose: () => void }) {
  const { data: contents, error } = useBundleContentsQuery(saved.id);
  return (
    <QuestionBox title={`Pack “${saved.name}” with its sources`} onClose={onClose}>
      {error && <FaultNote fault={faultOf(error)} />}
      {!contents && !error && <p role="status">Reading its sources …</p>}
      {contents && (
        <>
          <p>
            One zip file with the document, what its {counted(contents.objects, 'object')}{' '}
            {contents.objects === 1 ? 'shows' : 'show'}, and the files{' '}
            {contents.objects === 1 ? 'it takes' : 'they take'} from as they are now:
          </p>
          <ul className="max-h-[300px] divide-y divide-hairline overflow-auto" aria-label="Files">
            {contents.sources.map(({ path, bytes, isThere }) => (
              <li key={path} className="py-1.5">
                {path}{' '}
                <span className={isThere ? 'text-muted' : 'text-rope-dark'}>
                  {isThere
                    ? sizeText(bytes)
                    : 'cannot be reached: it goes without a copy, its objects keep what they show'}
                </span>
              </li>
            ))}
          </ul>
          <p className="text-muted">
            {contents.edited > 0 &&
              `Corrections that were not written back go along with ${counted(contents.edited, 'object')}. `}
            Comments, earlier states and the log stay here.
          </p>
          <p className="text-muted">
            Whoever opens it has all that the files hold, also what no object shows.
          </p>
        </>
      )}
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Leave it</Button>
        {contents && (
          <a
            href={`/api/documents/${saved.id}/bundle`}
            download
            onClick={onClose}
            className="inline-flex h-8 items-center gap-1.5 rounded-box border border-deep bg-deep px-3 font-semibold text-white hover:bg-deep-dark"
          >
            <Download size={15} aria-hidden /> Save the bundle
          </a>
        )}
      </div>
    </QuestionBox>
  );
}
