// First, since it says how schemas are made (its own first line).
import '@tether/documents';

export * from './bundle.ts';
export * from './carry.ts';
export * from './document.ts';
export * from './events.ts';
export * from './fault.ts';
export * from './ledger.ts';
export * from './modes.ts';
export * from './office.ts';
export * from './outputs.ts';
export * from './people.ts';
export * from './relink.ts';
export * from './rights.ts';
export * from './sources.ts';
export * from './tethers.ts';
export * from './writable.ts';
export * from './writing-way.ts';
