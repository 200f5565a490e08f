import type { DocumentDetail } from '@tether/contract';
import type { DrawingContent } from '@tether/documents';
import { type PageLook, PagesPrint, PageThumbnail, WholePages } from '../page/still/PageViews.tsx';
import { DRAWING } from './drawing-kind.ts';
import { groundOf } from './ground.tsx';

const LOOK: PageLook = { kind: DRAWING, ground: groundOf };

interface Props {
  documentId: string;
  content: DrawingContent;
}

/** The first sheet of a drawing, small. */
export const DrawingThumbnail = (props: Props) => <PageThumbnail {...props} look={LOOK} />;

/** All sheets of a drawing that only is looked at. */
export const WholeDrawing = (props: Props) => <WholePages {...props} look={LOOK} />;

/** A drawing as it will be printed. */
export const DrawingPrint = ({ saved }: { saved: DocumentDetail<DrawingContent> }) => (
  <PagesPrint saved={saved} look={LOOK} />
);
