import { kindOfThing, type PageContent, type Thing } from '@tether/documents';
import { useTethersQuery } from '../../state/api.ts';
import { kindWords } from '../surface/thing-words.ts';

/** Something that is on one of two states of pages alone, or differs between them. */
interface Difference {
  id: string;
  kind: 'came' | 'went' | 'changed';
  name: string;
  /** Which properties differ. */
  what: string[];
}

const PROPERTY_WORDS: Record<string, string> = {
  x: 'place',
  y: 'place',
  turn: 'turn',
  width: 'size',
  height: 'size',
  order: 'order',
  page: 'page',
  layer: 'layer',
  text: 'words',
  dressing: 'look',
  form: 'form',
  isLocked: 'lock',
  field: 'field of the title block',
  below: 'what it stands below',
};

/** What differs between two states of pages, thing by thing. */
export function differencesOf(
  before: PageContent,
  after: PageContent,
  nameOf: (thing: Thing) => string,
): Difference[] {
  const old = new Map(before.things.map((thing) => [thing.id, thing]));
  const now = new Map(after.things.map((thing) => [thing.id, thing]));
  const changed = after.things.flatMap((thing): Difference[] => {
    const was = old.get(thing.id);
    const { id } = thing;
    const name = nameOf(thing);
    if (!was) return [{ id, kind: 'came', name, what: [] }];
    const names = new Set([...Object.keys(was), ...Object.keys(thing)]);
    const value = (of: Thing, key: string) => JSON.stringify((of as Record<string, unknown>)[key]);
    const what = [...names].filter((key) => value(was, key) !== value(thing, key));
    if (what.length === 0) return [];
    const words = new Set(what.map((key) => PROPERTY_WORDS[key] ?? 'look'));
    return [{ id, kind: 'changed', name, what: [...words] }];
  });
  const gone = before.things.flatMap((thing): Difference[] =>
    now.has(thing.id) ? [] : [{ id: thing.id, kind: 'went', name: nameOf(thing), what: [] }],
  );
  return [...gone, ...changed];
}

/** What differs between two states of a document on pages. */
export function ComparedPages(props: {
  documentId: string;
  before: PageContent;
  after: PageContent;
}) {
  const { documentId, before, after } = props;
  const { data: tethers = [] } = useTethersQuery(documentId);
  const names = new Map(tethers.map(({ id, name }) => [id, name]));
  const found = differencesOf(before, after, (thing) => {
    const title = kindOfThing(thing).title?.(thing);
    const own = 'tetherId' in thing ? names.get(thing.tetherId) : null;
    return own ?? (title ? `${kindWords(thing)} “${title}”` : kindWords(thing));
  });
  const isSettled = JSON.stringify([before.settings, before.pages, before.layers]);
  const isOther = isSettled !== JSON.stringify([after.settings, after.pages, after.layers]);
  return (
    <div className="rounded-box bg-white p-5">
      <p role="status" className="mb-3 text-muted">
        {found.length === 0 && !isOther
          ? 'Nothing differs.'
          : found.length === 1
            ? 'One thing differs.'
            : `${found.length} things differ.`}
        {isOther && ' Sheets, layers or what is settled for all of them differ.'}
      </p>
      <ul className="divide-y divide-hairline">
        {found.map(({ id, kind, name, what }) => (
          <li key={id} className="grid grid-cols-[96px_1fr] gap-3 py-1.5">
            <span className="text-sm text-muted">{kind}</span>
            <span>
              {name}
              {what.length > 0 && <span className="text-muted">: {what.join(', ')}</span>}
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}
