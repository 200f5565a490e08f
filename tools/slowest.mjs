import { existsSync, readFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { ROOT, RUN } from './setup/paths.mjs';

/** Prints what took longest in the last test run, as the tables of `docs/testing.md`. */
const SHOWN = 30;

function report(name) {
  const path = join(RUN, name);
  if (!existsSync(path)) throw new Error(`There is no ${name} yet: run npm test first.`);
  return JSON.parse(readFileSync(path, 'utf8'));
}

function* storiesOf(suite) {
  for (const each of suite.suites ?? []) yield* storiesOf(each);
  for (const { file, title, tests } of suite.specs ?? []) {
    for (const { results } of tests) {
      yield { name: `${file}: ${title}`, seconds: results.at(-1).duration / 1000 };
    }
  }
}

const files = report('unit.json').testResults.map(({ name, startTime, endTime }) => ({
  name: relative(ROOT, name),
  seconds: (endTime - startTime) / 1000,
}));
for (const [what, all] of [
  ['story', [...storiesOf(report('e2e.json'))]],
  ['file of unit tests', files],
]) {
  const sum = all.reduce((total, { seconds }) => total + seconds, 0);
  console.log(`| ${what} | seconds |\n| --- | ---: |`);
  for (const { name, seconds } of all.sort((a, b) => b.seconds - a.seconds).slice(0, SHOWN)) {
    console.log(`| ${name.replaceAll('|', '/')} | ${seconds.toFixed(1)} |`);
  }
  console.log(`| *all ${all.length}, one after the other* | ${sum.toFixed(0)} |\n`);
}
