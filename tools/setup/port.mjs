import { createServer } from 'node:net';

function isFree(port) {
  return new Promise((resolve) => {
    const server = createServer();
    server.once('error', () => resolve(null));
    server.listen(port, '127.0.0.1', () => {
      const { port: given } = server.address();
      server.close(() => resolve(given));
    });
  });
}

/** A free loopback port: `wanted` or one of the next twenty, else any. */
export async function freePort(wanted = 0) {
  for (let port = wanted; wanted > 0 && port < wanted + 20; port++) {
    const free = await isFree(port);
    if (free) return free;
  }
  return isFree(0);
}
