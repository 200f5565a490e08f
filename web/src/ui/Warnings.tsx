import type { ReachWarning } from '@tether/core';
import { TriangleAlert } from 'lucide-react';
import type { ReactNode } from 'react';

/** What to know about what a reach takes, each with something to do about it where there is. */
export function Warnings(props: {
  warnings: readonly ReachWarning[];
  action?: (warning: ReachWarning) => ReactNode;
}) {
  if (props.warnings.length === 0) return null;
  return (
    <ul aria-label="To know" className="mt-2 flex flex-col gap-1.5">
      {props.warnings.map((warning) => (
        <li key={warning.message} className="flex gap-1.5" data-code={warning.code}>
          <TriangleAlert size={14} className="mt-[3px] shrink-0 text-behind" aria-hidden />
          <span>
            {warning.message} {props.action?.(warning)}
          </span>
        </li>
      ))}
    </ul>
  );
}
