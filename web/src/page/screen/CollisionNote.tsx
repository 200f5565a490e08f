import { roundMm } from '@tether/core';
import { useEffect, useState } from 'react';
import { Button } from '../../ui/Button.tsx';
import type { Collision } from '../surface/page-document.ts';
import type { PageSurface } from '../surface/page-surface.ts';

const WORDS: Record<string, string> = {
  x: 'place across',
  y: 'place down',
  turn: 'turn',
  width: 'width',
  height: 'height',
  order: 'order',
  text: 'words',
  rich: 'letters and lists',
  points: 'points',
  form: 'form',
  name: 'name',
  notes: 'notes of the speaker',
  layer: 'layer',
  page: 'page',
  line: 'width of the line',
  lineKind: 'strokes',
  colour: 'colour',
  fill: 'inside',
  letters: 'height of the letters',
  align: 'alignment',
  leader: 'place that the leader line points at',
  to: 'end',
  bow: 'bow',
  beside: 'distance of the dimension',
  alt: 'words for people who cannot see it',
  scale: 'scale',
  centre: 'middle of the plan',
  planTurn: 'turn of the plan',
  below: 'thing that it stands below',
  field: 'field of the title block',
  pulled: 'place of a part of the table',
  places: 'place of a mark',
  from: 'way in which the marks stand',
  key: 'column that names the rows',
  sizes: 'sizes of the marks',
  colours: 'colours of the marks',
  symbol: 'symbol',
  size: 'size',
};
/** Lists whose texts have numbers in their order: that two people ordered them is not worth a word. */
const ORDERED = ['labels', 'without'];

/** The property that a path of an entry belongs to. */
const headOf = (path: string) => path.split('.', 1)[0]!;

/** Tells that somebody else set the same at the same time, with both values, and gives one’s own back. */
export function CollisionNote({ surface }: { surface: PageSurface }) {
  const [all, setAll] = useState<Collision[]>([]);
  useEffect(
    () =>
      surface.pages.onCollision((collision) =>
        setAll((before) => [
          ...before.filter(
            ({ id, property }) => id !== collision.id || property !== collision.property,
          ),
          collision,
        ]),
      ),
    [surface],
  );
  // Words and what they are written as are one thing to people: they are told, and come back, together.
  const isTold = ({ id, property }: Collision) =>
    !ORDERED.includes(headOf(property)) &&
    (property !== 'rich' || !all.some((other) => other.id === id && other.property === 'text'));
  const first = all.find(isTold);
  if (!first) return null;
  const parts = all.filter(
    (each) =>
      each === first ||
      (first.property === 'text' && each.property === 'rich' && each.id === first.id),
  );
  const done = () => setAll((before) => before.filter((each) => !parts.includes(each)));
  return (
    <div
      role="alert"
      className="absolute inset-x-4 bottom-4 z-20 flex items-center gap-3 rounded-box border border-adrift/40 bg-white px-4 py-2 shadow-lg"
    >
      <p className="min-w-0 flex-1">
        <b className="text-adrift">
          Somebody else set the {WORDS[headOf(first.property)] ?? 'same'} at the same time.
        </b>{' '}
        It is {said(first.theirs, first.mine)} now; yours was {said(first.mine, first.theirs)}.
      </p>
      <Button
        kind="primary"
        onClick={() => {
          surface.pages.step(() => {
            for (const { list, id, property, mine } of parts) {
              surface.pages.changePart(list, id, { [property]: mine });
            }
          });
          done();
        }}
      >
        Set mine again
      </Button>
      <Button onClick={done}>Keep theirs</Button>
    </div>
  );
}

/** A value in words; of two long texts where they part. */
function said(value: unknown, other: unknown): string {
  if (typeof value === 'number') return String(roundMm(value));
  if (typeof value === 'string') return `“${fromWhereTheyPart(value, String(other))}”`;
  return value === null || value === undefined ? 'not set' : 'another one';
}

/** Letters shown of a text, and of what stands before the place where it parts from another. */
const SHOWN = 120;
const BEFORE = 20;

function fromWhereTheyPart(text: string, other: string): string {
  if (text.length <= SHOWN) return text;
  let at = 0;
  while (at < text.length && text[at] === other[at]) at++;
  const from = Math.max(0, Math.min(at - BEFORE, text.length - SHOWN));
  const to = from + SHOWN;
  return `${from > 0 ? '… ' : ''}${text.slice(from, to)}${to < text.length ? ' …' : ''}`;
}
