import { Button } from '../../ui/Button.tsx';
import { FaultNote } from '../../ui/FaultNote.tsx';
import type { usePictures } from './usePictures.ts';

/** Says over a document that pictures are being taken in, or why one was not. `side`: where it stands in nobody's way. */
export function PictureNotes(props: {
  pictures: Pick<ReturnType<typeof usePictures>, 'coming' | 'problem' | 'forget'>;
  side: 'left' | 'right';
}) {
  const { coming, problem, forget } = props.pictures;
  return (
    <>
      {coming > 0 && (
        <p
          role="status"
          className={`absolute bottom-4 z-10 rounded-box border border-hairline bg-white px-4 py-2 shadow-lg ${props.side === 'left' ? 'left-4' : 'right-4'}`}
        >
          {coming === 1 ? 'Taking in the picture …' : `Taking in ${coming} pictures …`}
        </p>
      )}
      {problem && (
        <div className="absolute inset-x-4 bottom-4 z-10 flex items-start gap-3 bg-white shadow-lg">
          <FaultNote fault={problem} className="min-w-0 flex-1" />
          <Button onClick={forget}>Close</Button>
        </div>
      )}
    </>
  );
}
