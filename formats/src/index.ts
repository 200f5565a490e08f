export { type OpenSource, openSource } from './open-source.ts';
export { takeReach } from './take-reach.ts';
