import type { LogEntry } from '@tether/contract';

/** What happened, as the middle of a sentence. */
export const KIND_WORDS: Record<LogEntry['kind'], string> = {
  placed: 'placed',
  refreshed: 'refreshed',
  'part taken': 'took a part of the changes of',
  left: 'left the changes of',
  'gone back': 'went back to an earlier state of',
  'taken back': 'took back a step of',
  'reach changed': 'changed what is taken by',
  'mode changed': 'changed when it refreshes:',
  held: 'held',
  released: 'released',
  frozen: 'froze',
  tied: 'tied again',
  'follows again': 'lets follow its source again:',
  'share changed': 'changed how much may change unseen in',
  renamed: 'renamed',
  'taken out': 'took out of the text:',
  'put back': 'put back into the text:',
  waits: 'waits for somebody',
  adrift: 'went adrift',
  'found again': 'was found again',
};
