export { type OpenSource, openSource } from './open-source.ts';
