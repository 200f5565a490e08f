import { format, formatDistanceToNowStrict, isToday } from 'date-fns';

/** A moment as people say it; the full date and time on hovering and for programs. */
export function Moment({ at }: { at: string }) {
  const date = new Date(at);
  const seconds = (Date.now() - date.getTime()) / 1000;
  const words =
    Math.abs(seconds) < 45
      ? seconds < 0
        ? 'in a moment'
        : 'just now'
      : Math.abs(seconds) < 3600
        ? formatDistanceToNowStrict(date, { addSuffix: true })
        : isToday(date)
          ? `today, ${format(date, 'HH:mm')}`
          : format(date, 'd MMM yyyy, HH:mm');
  return (
    <time dateTime={at} title={format(date, 'd MMMM yyyy, HH:mm:ss')}>
      {words}
    </time>
  );
}

/** A moment with its date, and to the second: states of the same minute are told apart by it. */
export function ExactMoment({ at }: { at: string }) {
  const date = new Date(at);
  return (
    <time dateTime={at} title={format(date, 'd MMMM yyyy, HH:mm:ss')}>
      {format(date, 'd MMM yyyy, HH:mm:ss')}
    </time>
  );
}
