import { readFile } from 'node:fs/promises';
import type { Server } from 'node:http';
import { type AddressInfo, connect, type Socket } from 'node:net';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { DocumentDetail } from '@tether/contract';
import fc from 'fast-check';
import supertest from 'supertest';
import { boundsFault } from '../storage/json-bounds.ts';
import { startTestServer } from './testing.fixture.ts';

type TestServer = Awaited<ReturnType<typeof startTestServer>>;
let server: TestServer;
let ines: Awaited<ReturnType<TestServer['as']>>;
let report: DocumentDetail;
let listening: Server;
let address: string;

beforeAll(async () => {
  server = await startTestServer();
  ines = await server.as('ines');
  [report] = (await ines.get('/api/documents')).body;
  listening = server.app.listen(0, '127.0.0.1');
  await new Promise((resolve) => listening.once('listening', resolve));
  address = `http://127.0.0.1:${(listening.address() as AddressInfo).port}`;
}, 60_000);
afterAll(async () => {
  listening.close();
  listening.closeAllConnections();
  await server.stop();
});

describe('somebody who is not signed in', () => {
  test('cannot use up the memory with large bodies, however many are sent', async () => {
    const [{ pid }, said] = await server.startProcess([], /^listening \d+$/);
    const at = `http://127.0.0.1:${said.split(' ')[1]}/api`;
    const held = async () =>
      Number(/^VmRSS:\s+(\d+)/m.exec(await readFile(`/proc/${pid}/status`, 'utf8'))![1]) / 1024;
    const body = JSON.stringify({ signInName: 'x'.repeat(20 << 20), password: 'y' });
    const before = await held();
    let most = 0;
    const answers = await Promise.all(
      ['/sign-in', '/sign-out', '/documents', '/tethers/refresh', '/no-such-address'].flatMap(
        (path) =>
          Array.from({ length: 6 }, () =>
            fetch(`${at}${path}`, {
              method: 'POST',
              headers: { 'content-type': 'application/json' },
              body,
            })
              .then(
                ({ status }) => status,
                // The connection is closed before all of it was sent.
                () => 400,
              )
              .finally(async () => {
                most = Math.max(most, await held());
              }),
          ),
      ),
    );
    for (const status of answers) expect(status).toBeGreaterThanOrEqual(400);
    // Thirty bodies are 600 MB, and several times that once they are built.
    expect(most - before).toBeLessThan(200);
    expect((await fetch(`${at}/me`)).status).toBe(401);
  });

  test('cannot keep all passwords waiting', async () => {
    const body = { signInName: 'ines', password: 'wrong' };
    const answers = await Promise.all(
      Array.from({ length: 80 }, () => supertest(listening).post('/api/sign-in').send(body)),
    );
    const codes = answers.map((answer) => answer.body.fault.code);
    expect(new Set(codes)).toEqual(new Set(['sign-in-failed', 'too-many-at-once']));
    await server.as('ines');
  });

  test('has a name with a character that is none refused, and no line of the log forged', async () => {
    const answer = await supertest(listening)
      .post('/api/sign-in')
      .send({ signInName: 'ines\u0000\nforged', password: 'x' });
    expect(answer.status).toBe(400);
  });
});

describe('bodies of people who are signed in', () => {
  test('that are nested deeply are refused at once', async () => {
    const deep = `${'['.repeat(900_000)}${']'.repeat(900_000)}`;
    const answer = await ines
      .put(`/api/documents/${report.id}/content`)
      .set('content-type', 'application/json')
      .send(`{"version":${report.version},"content":${deep}}`)
      .expect(400);
    // Told by the bytes, before anything was made of them.
    expect(answer.body.fault.message).toContain('nested too deeply');
  });

  test('are as large as their route needs, and no larger', async () => {
    const words = (bytes: number) => ({
      version: report.version,
      content: {
        type: 'doc',
        content: [{ type: 'paragraph', content: [{ type: 'text', text: 'x'.repeat(bytes) }] }],
      },
    });
    await ines
      .put(`/api/documents/${report.id}/content`)
      .send(words(14 << 20))
      .expect(400);
    await ines
      .put(`/api/documents/${report.id}/hold`)
      .send({ pad: 'x'.repeat(300 << 10) })
      .expect(400);
    await ines
      .put(`/api/documents/${report.id}/content`)
      .send(words(2 << 20))
      .expect(200);
  });

  test('with a character that the database cannot keep are refused with a sentence', async () => {
    const [{ version }] = (await ines.get('/api/documents')).body;
    const content = { type: 'doc', content: [{ type: 'paragraph', attrs: { a: 'b\u0000' } }] };
    const answer = await ines
      .put(`/api/documents/${report.id}/content`)
      .send({ version, content })
      .expect(400);
    expect(answer.body.fault.message).toContain('U+0000');
  });

  test('that are many and large at once are all taken, one after the other', async () => {
    const body = JSON.stringify({ cells: [['x'.repeat(5 << 20)]] });
    const answers = await Promise.all(
      Array.from({ length: 9 }, () =>
        ines.post('/api/sources/find').set('content-type', 'application/json').send(body),
      ),
    );
    expect(new Set(answers.map(({ status }) => status))).toEqual(new Set([answers[0]!.status]));
    await ines.get('/api/me').expect(200);
  });

  test('that wait for room are let in when those before them are answered', async () => {
    const cookie = (
      await ines.post('/api/sign-in').send({ signInName: 'ines', password: 'saltmarsh' })
    ).headers['set-cookie']![0]!.split(';')[0]!;
    const body = JSON.stringify({ cells: [['x'.repeat(10 << 20)]] });
    const { port } = new URL(address);
    // All heads come first, so that some hold the room and the others wait for it before any body is there.
    const sockets = await Promise.all(
      Array.from(
        { length: 6 },
        () =>
          new Promise<Socket>((open) => {
            const socket = connect(Number(port), '127.0.0.1', () => {
              const head = [
                'POST /api/sources/find HTTP/1.1',
                'Host: 127.0.0.1',
                'Connection: close',
                `Cookie: ${cookie}`,
                'Content-Type: application/json',
                `Content-Length: ${body.length}`,
              ].join('\r\n');
              socket.write(`${head}\r\n\r\n`, () => open(socket));
            });
          }),
      ),
    );
    await ines.get('/api/documents').expect(200);
    const answers = await Promise.all(
      sockets.map(
        (socket) =>
          new Promise<string>((answered) => {
            let text = '';
            socket.on('data', (piece) => {
              text += piece;
            });
            socket.on('close', () => answered(text.slice(0, 12)));
            socket.write(body);
          }),
      ),
    );
    expect(answers).toEqual(answers.map(() => 'HTTP/1.1 400'));
  });

  test('whose sender goes away at once keep nobody else waiting', async () => {
    const cookie = (
      await ines.post('/api/sign-in').send({ signInName: 'ines', password: 'saltmarsh' })
    ).headers['set-cookie']![0]!.split(';')[0]!;
    const { port } = new URL(address);
    for (let round = 0; round < 30; round++) {
      await new Promise<void>((gone) => {
        const socket = connect(Number(port), '127.0.0.1', () => {
          const head = [
            'POST /api/sources/find HTTP/1.1',
            'Host: 127.0.0.1',
            `Cookie: ${cookie}`,
            'Content-Type: application/json',
            `Content-Length: ${11 << 20}`,
          ].join('\r\n');
          socket.write(`${head}\r\n\r\n{"cells":`, () => {
            // Before, while and after it is looked up who sends it.
            setTimeout(() => socket.destroy(), round % 6);
          });
        });
        socket.on('close', () => gone());
        socket.on('error', () => undefined);
      });
    }
    const answer = await ines.post('/api/sources/find').send({ cells: [['a']] });
    expect(answer.status).toBe(200);
  });

  test('are measured as they are parsed', () => {
    fc.assert(
      fc.property(fc.json({ maxDepth: 30 }), (json) => {
        const holdsNul = JSON.stringify(JSON.parse(json)).includes('\\u0000');
        const isTaken = boundsFault(Buffer.from(JSON.stringify(JSON.parse(json)))) === null;
        // A written-out backslash before it is no escape.
        fc.pre(!json.includes('\\\\u0000'));
        expect(isTaken).toBe(!holdsNul);
      }),
      { seed: 3 },
    );
    expect(boundsFault(Buffer.from(String.raw`{"a":"\\u0000"}`))).toBeNull();
    expect(boundsFault(Buffer.from(String.raw`{"a":"\\\u0000"}`))).toContain('U+0000');
    expect(boundsFault(Buffer.from(`{"a":"${'['.repeat(999)}\\"["}`))).toBeNull();
    expect(boundsFault(Buffer.from(`[${'0,'.repeat(2_000_001)}0]`))).toContain('too many');
  });
});

describe('another page', () => {
  const takeBack = () => ines.post('/api/log/1/take-back');

  test.each([
    ['on another port of the same host', { origin: 'http://127.0.0.1:1' }],
    ['of another site', { origin: 'https://example.org' }],
    ['without an address', { origin: 'null' }],
    ['that says only where it stands', { 'sec-fetch-site': 'same-site' }],
  ])('%s cannot change anything', async (_, headers) => {
    const answer = await takeBack().set(headers).expect(403);
    expect(answer.body.fault.code).toBe('origin-not-allowed');
    await ines
      .put(`/api/documents/${report.id}/hold`)
      .set(headers)
      .send({ isHeld: true })
      .expect(403);
  });

  test('can neither sign somebody in', async () => {
    await supertest(server.app)
      .post('/api/sign-in')
      .set('origin', 'https://example.org')
      .send({ signInName: 'ines', password: 'saltmarsh' })
      .expect(403);
  });

  test('of our own, and a program, can', async () => {
    const own = { origin: address, host: address.slice('http://'.length) };
    for (const answer of [await takeBack().set(own), await takeBack()]) {
      expect(answer.body.fault.code).not.toBe('origin-not-allowed');
    }
  });
});
