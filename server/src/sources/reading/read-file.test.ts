import { type ChildProcess, spawn } from 'node:child_process';
import { mkdir, mkdtemp, realpath, rm, symlink, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { locate } from '../locate.ts';
import readFile from './read-file.ts';

let home: string;
let swapping: ChildProcess;
beforeAll(async () => {
  home = await realpath(await mkdtemp(join(tmpdir(), 'tether-swap-')));
  await mkdir(join(home, 'sources/sub'), { recursive: true });
  await mkdir(join(home, 'outside'));
  await writeFile(join(home, 'sources/sub/counts.csv'), 'Plot,Plants\nSC-01,150\n');
  await writeFile(join(home, 'outside/counts.csv'), 'Secret,Of another\nsalary,1\n');
  await symlink(join(home, 'outside'), join(home, 'sources/link'));
  // Exchanges the folder for the link that leads out, and back, as quickly as it can.
  const script = `
    const { renameSync } = require('node:fs');
    const at = (name) => ${JSON.stringify(join(home, 'sources'))} + '/' + name;
    for (;;) {
      renameSync(at('sub'), at('aside'));
      renameSync(at('link'), at('sub'));
      renameSync(at('sub'), at('link'));
      renameSync(at('aside'), at('sub'));
    }`;
  swapping = spawn(process.execPath, ['-e', script], { stdio: 'ignore' });
});
afterAll(async () => {
  swapping.kill('SIGKILL');
  await rm(home, { recursive: true, force: true });
});

test('nothing outside the folder is read, even where a link takes the place of what was checked', async () => {
  const folder = { name: 'Sources', root: join(home, 'sources') };
  const area = { top: 1, left: 1, bottom: 3, right: 2 };
  const outcomes = new Map<string, number>();
  for (let tries = 0; tries < 1_500; tries++) {
    const located = await locate(folder, 'sub/counts.csv');
    if (!located.ok) {
      outcomes.set(located.fault.code, (outcomes.get(located.fault.code) ?? 0) + 1);
      continue;
    }
    const read = await readFile({
      ...located.value,
      shownPath: 'sub/counts.csv',
      reaches: [{ kind: 'block', sheet: 'counts', area }],
    });
    const [taken] = read.ok ? read.value.taken : [];
    const said = !read.ok
      ? read.fault.code
      : taken?.ok
        ? taken.value.snapshot.cells.map(({ text }) => text).join(' ')
        : 'no cells';
    outcomes.set(said, (outcomes.get(said) ?? 0) + 1);
  }
  expect([...outcomes.keys()].filter((each) => each.includes('Secret'))).toEqual([]);
  expect(outcomes.get('Plot Plants SC-01 150')).toBeGreaterThan(0);
  // The exchange was met in the middle at times, and told.
  const told = ['path-outside-folder', 'source-missing'].map((code) => outcomes.get(code) ?? 0);
  expect(told.reduce((sum, each) => sum + each, 0)).toBeGreaterThan(0);
});
