export { openSource } from './open-source.ts';
export type { OpenSource } from './source.ts';
export { takeReach } from './take-reach.ts';
