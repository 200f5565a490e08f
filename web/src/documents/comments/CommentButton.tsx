import type { CommentAbout } from '@tether/documents';
import { MessageSquarePlus } from 'lucide-react';
import { useContext, useState } from 'react';
import { useAppDispatch } from '../../state/store.ts';
import { threadShown } from '../../state/workbench-slice.ts';
import { Button } from '../../ui/Button.tsx';
import { IconButton } from '../../ui/IconButton.tsx';
import { QuestionBox } from '../../ui/QuestionBox.tsx';
import { type Surface, useSurface } from '../surface.ts';
import { CommentField } from './CommentField.tsx';
import { CommentsAround } from './comments.ts';

/** Asks what somebody has to say of the marked words or the selected object. */
export function CommentButton({ surface }: { surface: Surface }) {
  const comments = useContext(CommentsAround);
  const dispatch = useAppDispatch();
  const [about, setAbout] = useState<CommentAbout | null>(null);
  const isPossible = useSurface(surface, (now) => now.about() !== null);
  if (!comments) return null;
  return (
    <>
      <IconButton
        icon={MessageSquarePlus}
        label={isPossible ? 'Comment' : 'Comment: mark words or select an object first'}
        disabled={!isPossible}
        onClick={() => setAbout(surface.about())}
      />
      {about && (
        <QuestionBox title="A comment" onClose={() => setAbout(null)}>
          {about.kind === 'words' && (
            <p className="line-clamp-3 border-l-2 border-rope pl-2 text-muted">“{about.quote}”</p>
          )}
          <CommentField
            label="What you have to say"
            action="Say it"
            isFirst
            onSaid={(words) => {
              dispatch(threadShown(comments.begin(about, words)));
              setAbout(null);
            }}
          >
            <Button onClick={() => setAbout(null)}>Cancel</Button>
          </CommentField>
        </QuestionBox>
      )}
    </>
  );
}
