import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { parseEdit, saveAsColleague } from './colleague.ts';

const HELP = `Saves a demo source as a colleague would.

  npm run demo:save -- monitoring/planting-counts.xlsx 'Counts!D8=104'
  npm run demo:save -- monitoring/planting-counts.xlsx '+Counts!9=SC-13,Sea aster,150,120'
  npm run demo:save -- works/boardwalk-piles.xlsx '-Piles!7' --in-place

Sheet!D8=104 sets a cell, +Sheet!9=a,b,c inserts a row before row 9, -Sheet!9 removes row 9.
--in-place writes over the file instead of replacing it by name.`;

const { values, positionals } = parseArgs({
  allowPositionals: true,
  strict: false,
  options: { 'in-place': { type: 'boolean' }, help: { type: 'boolean' } },
});
// A removal starts with a dash; parseArgs must not read it as an option.
const words = process.argv.slice(2).filter((word) => !word.startsWith('--'));
const [path, ...edits] = words.length > 0 ? words : positionals;

if (values.help || !path || edits.length === 0) {
  console.log(HELP);
  process.exitCode = values.help ? 0 : 1;
} else {
  const file = join(process.env.TETHER_SOURCES ?? 'sources', path);
  try {
    await saveAsColleague(file, edits.map(parseEdit), values['in-place'] ? 'in place' : 'rename');
    console.log(`Saved ${path}: ${edits.join('  ')}`);
  } catch (error) {
    console.error(`Not saved: ${(error as Error).message}`);
    process.exitCode = 1;
  }
}
