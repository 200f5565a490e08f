import { fault } from '@tether/core';
import type { ReactNode } from 'react';
import { ErrorBoundary } from 'react-error-boundary';
import { FaultNote } from '../ui/FaultNote.tsx';

/**
 * Draws its content; what fails to be drawn says so in its own place and leaves everything around it as it is. It is tried
 * again when one of `resetKeys` changes.
 */
export function DrawnOrFault(props: {
  resetKeys: unknown[];
  /** Whether it stands in a line of text. */
  isInline?: boolean;
  children: ReactNode;
}) {
  const { resetKeys, isInline = false, children } = props;
  return (
    <ErrorBoundary
      resetKeys={resetKeys}
      fallbackRender={({ error }) => {
        const detail = error instanceof Error ? error.message : String(error);
        const told = fault('object-not-drawn', { detail });
        return isInline ? (
          <span role="alert" title={told.hint} className="text-adrift">
            {told.message}
          </span>
        ) : (
          <FaultNote className="paper-sans max-w-prose text-base" fault={told} />
        );
      }}
    >
      {children}
    </ErrorBoundary>
  );
}
