import type { Fault } from '@tether/core';

/** A fault told to the person: the sentence and what to do next. */
export function FaultNote({ fault, className = '' }: { fault: Fault; className?: string }) {
  return (
    <div
      role="alert"
      data-code={fault.code}
      className={`rounded-box border border-adrift/50 bg-white px-3 py-2 ${className}`}
    >
      <p className="font-semibold text-adrift">{fault.message}</p>
      <p>{fault.hint}</p>
    </div>
  );
}
