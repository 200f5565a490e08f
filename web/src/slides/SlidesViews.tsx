import type { DocumentDetail } from '@tether/contract';
import type { SlidesContent } from '@tether/documents';
import { type PageLook, PagesPrint, PageThumbnail, WholePages } from '../page/PageViews.tsx';
import { slideGround } from './ground.tsx';
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

/** A deck as it will be printed: a slide on each page. */
export const SlidesPrint = ({ saved }: { saved: DocumentDetail<SlidesContent> }) => (
  <PagesPrint saved={saved} look={SLIDES_LOOK} />
);
