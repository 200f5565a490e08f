import type { OfficeAsk } from '@tether/contract';
import { ACTS, act, officeOf, undo } from './office.ts';

/** `npm run office`: plays the world outside on the demo's sources. */
const office = officeOf(process.env.TETHER_SOURCES ?? 'sources');
const [name, ...words] = process.argv.slice(2);

const asked = ({ kind, example, isOptional }: OfficeAsk) => {
  const said = kind === 'words' ? `'${example}'` : example;
  return isOptional ? `[${said}]` : said;
};
const HELP = [
  'Plays the world outside on the sources of the demo; each step is real, and can be undone.',
  '',
  ...Object.entries(ACTS).map(
    ([each, { asks, says }]) =>
      `  npm run office -- ${[each, ...asks.map(asked)].join(' ')}\n      ${says}.`,
  ),
  '  npm run office -- undo\n      All is as it was before the last step.',
].join('\n');

try {
  if (!name || name === 'help') console.log(HELP);
  else if (name === 'undo') {
    console.log((await undo(office)) ? 'All is as it was before.' : 'There is nothing to undo.');
  } else console.log(`${await act(office, name, words)}.`);
} catch (error) {
  console.error(`Not done: ${(error as Error).message}`);
  process.exitCode = 1;
}
