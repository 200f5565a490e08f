import type { DocumentDetail } from '@tether/contract';
import type { SlidesContent } from '@tether/documents';
import { useMemo } from 'react';
import { useSearchParams } from 'react-router';
import { type PageLook, PagesPrint, PageThumbnail, WholePages } from '../page/still/PageViews.tsx';
import { Tick } from '../ui/fields/Tick.tsx';
import { slideGround } from './ground.tsx';
import { NOTES_SHEET, notesLeaf } from './notes-leaf.tsx';
import { SLIDES } from './slides-kind.ts';

export const SLIDES_LOOK: PageLook = { kind: SLIDES, ground: slideGround };

interface Props {
  documentId: string;
  content: SlidesContent;
}

/** The first slide of a deck, small. */
export const SlidesThumbnail = (props: Props) => <PageThumbnail {...props} look={SLIDES_LOOK} />;

/** All slides of a deck that only is looked at. */
export const WholeDeck = (props: Props) => <WholePages {...props} look={SLIDES_LOOK} />;

/** A deck as it will be printed: a slide on each page, or each over its notes. */
export function SlidesPrint({ saved }: { saved: DocumentDetail<SlidesContent> }) {
  const [query, setQuery] = useSearchParams();
  const hasNotes = query.has('notes');
  const leaves = useMemo(
    () => (hasNotes ? { leaf: notesLeaf(saved.content), size: NOTES_SHEET } : undefined),
    [hasNotes, saved.content],
  );
  return (
    <PagesPrint
      key={hasNotes ? 'notes' : 'slides'}
      saved={saved}
      look={SLIDES_LOOK}
      leaves={leaves}
      choices={
        <Tick
          isOn={hasNotes}
          onChange={(isOn) =>
            setQuery(
              (before) => {
                if (isOn) before.set('notes', '');
                else before.delete('notes');
                return before;
              },
              { replace: true },
            )
          }
        >
          With the notes
        </Tick>
      }
    />
  );
}
