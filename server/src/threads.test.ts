import { once } from 'node:events';
import { Worker } from 'node:worker_threads';
import { expect, test } from '@jest/globals';
import { builtWorker, THREAD_ARGUMENTS } from './threads.ts';

test('threads require no module, since one that is ended meanwhile would end the process', async () => {
  const thread = new Worker(
    `const { parentPort, workerData } = require('node:worker_threads');
     try { require(workerData); parentPort.postMessage('required'); }
     catch ({ code }) { parentPort.postMessage(code); }`,
    { eval: true, execArgv: THREAD_ARGUMENTS, workerData: builtWorker('compare-packed') },
  );
  expect(await once(thread, 'message')).toEqual(['ERR_REQUIRE_ESM']);
  await thread.terminate();
});
