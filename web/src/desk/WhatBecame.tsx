import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { Button } from '../ui/Button.tsx';

/** What came of making a document: the way to it, what to know of it, and lists of what is worth a look. */
export function WhatBecame(props: {
  documentId: string;
  name: string;
  /** Goes on after its name. */
  children: ReactNode;
  /** Lists that have nothing in them are left out. */
  lists: { title: string; items: { key: string; words: ReactNode }[] }[];
  onClose: () => void;
}) {
  const { documentId, name, children, lists, onClose } = props;
  return (
    <>
      <p role="status">
        <Link to={`/documents/${documentId}`} className="font-semibold underline">
          {name}
        </Link>{' '}
        {children}
      </p>
      {lists.map(
        ({ title, items }) =>
          items.length > 0 && (
            <section key={title} aria-label={title} className="min-h-0 overflow-auto">
              <h3 className="font-semibold">{title}</h3>
              <ul className="list-disc pl-5">
                {items.map(({ key, words }) => (
                  <li key={key}>{words}</li>
                ))}
              </ul>
            </section>
          ),
      )}
      <div className="mt-auto flex justify-end">
        <Button kind="primary" onClick={onClose}>
          Done
        </Button>
      </div>
    </>
  );
}
