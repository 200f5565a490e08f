import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { type DocumentDetail, printProgressSchema, type Tether } from '@tether/contract';
import { USUAL_PAPER } from '@tether/core';
import { kindOf, PLACED_NODE, type ReportContent, reportSettings } from '@tether/documents';
import supertest from 'supertest';
import { startTestServer } from './testing.fixture.ts';

type TestServer = Awaited<ReturnType<typeof startTestServer>>;
type Client = Awaited<ReturnType<TestServer['as']>>;
let server: TestServer;
let ines: Client;
let report: DocumentDetail<ReportContent>;

beforeAll(async () => {
  server = await startTestServer();
  ines = await server.as('ines');
  [report] = (await ines.get('/api/documents')).body;
}, 60_000);
afterAll(() => server?.stop());

const current = async (): Promise<DocumentDetail<ReportContent>> =>
  (await ines.get(`/api/documents/${report.id}`)).body;
const tethersOf = async (id: string): Promise<Tether[]> =>
  (await ines.get(`/api/documents/${id}/tethers`)).body;

describe('the gate', () => {
  const id = randomUUID();
  const routes: [method: 'get' | 'post' | 'put' | 'patch' | 'delete', path: string][] = [
    ['get', '/api/me'],
    ['get', '/api/events'],
    ['get', '/api/documents'],
    ['post', '/api/documents'],
    ['get', `/api/documents/${id}`],
    ['patch', `/api/documents/${id}`],
    ['put', `/api/documents/${id}/content`],
    ['get', `/api/documents/${id}/versions`],
    ['post', `/api/documents/${id}/versions`],
    ['get', `/api/documents/${id}/versions/${id}`],
    ['get', `/api/documents/${id}/tethers`],
    ['get', `/api/documents/${id}/printer`],
    ['get', `/api/documents/${id}/print`],
    ['get', `/api/documents/${id}/print/${id}`],
    ['post', `/api/documents/${id}/tethers`],
    ['get', '/api/tethers/needs-you'],
    ['post', '/api/tethers/refresh'],
    ['get', `/api/tethers/${id}/slip`],
    ['put', `/api/tethers/${id}/writes-at-once`],
    ['post', `/api/tethers/${id}/stays`],
    ['put', `/api/tethers/${id}/mooring`],
    ['get', `/api/documents/${id}/bundle/contents`],
    ['get', `/api/documents/${id}/bundle`],
    ['post', '/api/bundles/look?file=a'],
    ['post', '/api/bundles?file=a'],
    ['get', `/api/documents/${id}/carry-forward`],
    ['post', `/api/documents/${id}/carry-forward`],
    ['patch', `/api/tethers/${id}`],
    ['get', `/api/snapshots/${'0'.repeat(64)}`],
    ['post', `/api/documents/${id}/pictures`],
    ['get', `/api/pictures/${'0'.repeat(64)}`],
    ['get', `/api/pictures/${'0'.repeat(64)}/layers`],
    ['get', `/api/source-folders/${id}/elsewhere?path=a`],
    ['get', '/api/office'],
    ['post', '/api/office'],
    ['post', '/api/office/undo'],
    ['post', `/api/documents/${id}/objects/${id}/picture`],
    ['get', '/api/sources'],
    ['get', `/api/sources/${id}/contents`],
    ['get', `/api/sources/${id}/cells?sheet=a&reference=A1`],
    ['get', '/api/sources/search?words=plot'],
    ['get', `/api/sources/${id}/chart?chart=a`],
    ['put', `/api/sources/${id}/reading`],
    ['get', `/api/sources/${id}/entries`],
    ['put', `/api/sources/${id}/entries`],
    ['delete', `/api/sources/${id}/entries`],
    ['post', `/api/sources/${id}/entries/decide`],
    ['post', `/api/sources/${id}/entries/save`],
    ['post', `/api/sources/${id}/lines/plan`],
    ['post', `/api/sources/${id}/lines`],
    ['get', `/api/sources/${id}/candidates`],
    ['get', `/api/sources/${id}/relink/${id}`],
    ['post', `/api/sources/${id}/relink`],
    ['get', '/api/source-folders/places'],
    ['post', '/api/source-folders'],
    ['patch', `/api/source-folders/${id}`],
    ['delete', `/api/source-folders/${id}`],
    ['put', `/api/source-folders/${id}/files?name=a.csv`],
    ['get', '/api/log'],
    ['post', '/api/log/1/lay-out'],
    ['get', '/api/no-such-address'],
  ];

  test.each(routes)('%s %s is closed to who is not signed in', async (method, path) => {
    const answer = await supertest(server.app)[method](path).expect(401);
    expect(answer.body.fault.code).toBe('not-signed-in');
  });

  test.each(routes.filter(([method]) => method !== 'get'))(
    '%s %s is closed to who may only look',
    async (method, path) => {
      const odile = await server.as('odile');
      const answer = await odile[method](path).send({}).expect(403);
      expect(answer.body.fault).toMatchObject({
        code: 'not-allowed',
        hint: 'Ask Ines Fallow to make the change.',
      });
    },
  );

  test('who may only look can look', async () => {
    const odile = await server.as('odile');
    await odile.get('/api/documents').expect(200);
    await odile.get('/api/log').expect(200);
  });
});

describe('signing in', () => {
  test('needs the right password, and says no more than that', async () => {
    for (const signInName of ['ines', 'nobody']) {
      const answer = await supertest(server.app)
        .post('/api/sign-in')
        .send({ signInName, password: 'wrong' })
        .expect(401);
      expect(answer.body.fault.code).toBe('sign-in-failed');
      expect(answer.headers['set-cookie']).toBeUndefined();
    }
  });

  test('gives a cookie that scripts cannot read, and signing out ends the session for good', async () => {
    const agent = supertest.agent(server.app);
    const answer = await agent
      .post('/api/sign-in')
      .send({ signInName: 'TAM', password: 'saltmarsh' })
      .expect(200);
    expect(answer.body).toEqual({
      id: expect.any(String),
      name: 'Tam Reedsby',
      title: 'Field ecologist',
      role: 'editor',
    });
    const [cookie] = answer.headers['set-cookie'] as unknown as string[];
    expect(cookie).toMatch(/HttpOnly/);
    expect(cookie).toMatch(/SameSite=Strict/);
    await agent.post('/api/sign-out').expect(204);
    await supertest(server.app).get('/api/me').set('cookie', cookie!.split(';')[0]!).expect(401);
  });

  test('no password is kept as it was typed', async () => {
    const { rows } = await server.db.execute('select password_hash from people');
    expect(rows).toHaveLength(3);
    for (const row of rows) expect(String(row.password_hash)).toMatch(/^scrypt\$16384\$8\$1\$/);
  });
});

describe('saving', () => {
  test('goes upon the version that was written on; the second of two people is told and nothing of either is lost', async () => {
    const { version, content } = await current();
    const withText = (words: string) => ({
      version,
      content: {
        ...content,
        content: [
          ...content.content,
          { type: 'paragraph', content: [{ type: 'text', text: words }] },
        ],
      },
    });
    const tam = await server.as('tam');
    const first = await tam
      .put(`/api/documents/${report.id}/content`)
      .send(withText('Tam wrote this.'))
      .expect(200);
    expect(first.body).toEqual({ version: version + 1 });
    const second = await ines
      .put(`/api/documents/${report.id}/content`)
      .send(withText('Ines wrote that.'))
      .expect(409);
    expect(second.body.fault).toMatchObject({
      code: 'document-saved-elsewhere',
      message: expect.stringContaining('Tam Reedsby'),
    });
    expect(JSON.stringify((await current()).content)).toContain('Tam wrote this.');
  });

  test('gives a copied object a tether of its own, and takes note of what stands in the text', async () => {
    const { version, content } = await current();
    const node = content.content.find(({ type }) => type === PLACED_NODE)!;
    const original = String(node.attrs!.tetherId);
    const copy = randomUUID();
    const twin = { type: PLACED_NODE, attrs: { tetherId: copy, copyOf: original } };
    await ines
      .put(`/api/documents/${report.id}/content`)
      .send({ version, content: { ...content, content: [...content.content, twin] } })
      .expect(200);
    let list = await tethersOf(report.id);
    const [made, origin] = [copy, original].map((id) => list.find((tether) => tether.id === id)!);
    expect(made).toMatchObject({
      name: origin!.name,
      base: origin!.base,
      reach: origin!.reach,
      placed: true,
    });

    // Taken out of the text the object is kept, for undo, but counts no more.
    await ines
      .put(`/api/documents/${report.id}/content`)
      .send({ version: version + 1, content })
      .expect(200);
    list = await tethersOf(report.id);
    expect(list.find((tether) => tether.id === copy)!.placed).toBe(false);
    expect((await current()).standings).toEqual({ 'in step': 2 });
  });

  test('a new report may start from a text with copies', async () => {
    const [tether] = await tethersOf(report.id);
    const content = {
      type: 'doc',
      content: [{ type: PLACED_NODE, attrs: { tetherId: randomUUID(), copyOf: tether!.id } }],
    };
    const made = await ines
      .post('/api/documents')
      .send({ name: 'Own version', content })
      .expect(201);
    expect(made.body).toMatchObject({
      name: 'Own version',
      version: 1,
      standings: { 'in step': 1 },
    });
    await ines.patch(`/api/documents/${made.body.id}`).send({ name: 'Renamed' }).expect(200);
    expect((await ines.get(`/api/documents/${made.body.id}`)).body.name).toBe('Renamed');
  });
});

describe('texts that no editor could show whole', () => {
  test.each([
    ['a node', { type: 'hologram' }],
    [
      'a mark',
      { type: 'paragraph', content: [{ type: 'text', text: 'a', marks: [{ type: 'glow' }] }] },
    ],
  ])('%s of an unknown kind is refused, and nothing is stored', async (_, node) => {
    const { version, content } = await current();
    const body = { version, content: { ...content, content: [...content.content, node] } };
    const answer = await ines.put(`/api/documents/${report.id}/content`).send(body).expect(400);
    expect(answer.body.fault.code).toBe('request-malformed');
    expect((await current()).content).toEqual(content);
  });

  test('are shown as far as they are known', () => {
    const content = {
      type: 'doc',
      content: [
        { type: 'hologram', content: [{ type: 'text', text: 'a' }] },
        {
          type: 'paragraph',
          content: [{ type: 'sound' }, { type: 'text', text: 'b', marks: [{ type: 'glow' }] }],
        },
      ],
    } as unknown as ReportContent;
    expect(kindOf('report').knownPart(content)).toEqual({
      unknown: ['hologram', 'sound', 'glow'],
      content: {
        type: 'doc',
        content: [
          { type: 'paragraph', content: [{ type: 'text', text: '[hologram]' }] },
          {
            type: 'paragraph',
            content: [
              { type: 'text', text: '[sound]' },
              { type: 'text', text: 'b', marks: [] },
            ],
          },
        ],
      },
    });
  });
});

describe('versions', () => {
  test('keep a text beside the document’s own, with who wrote it', async () => {
    const { content } = await current();
    const mine = { ...content, content: [{ type: 'paragraph' }] };
    const kept = await ines
      .post(`/api/documents/${report.id}/versions`)
      .send({ why: 'put aside', content: mine })
      .expect(201);
    const [first] = (await ines.get(`/api/documents/${report.id}/versions`).expect(200)).body;
    expect(first).toMatchObject({ id: kept.body.id, by: 'Ines Fallow', why: 'put aside' });
    const whole = await ines.get(`/api/documents/${report.id}/versions/${first.id}`).expect(200);
    expect(whole.body.content).toEqual(mine);
    expect((await current()).content).toEqual(content);
  });

  test('of another document, or of none, are not found', async () => {
    const [{ id }] = (await ines.get(`/api/documents/${report.id}/versions`)).body;
    await ines.get(`/api/documents/${randomUUID()}/versions/${id}`).expect(404);
    await ines
      .post(`/api/documents/${randomUUID()}/versions`)
      .send({ why: 'put aside', content: { type: 'doc', content: [] } })
      .expect(404);
  });
});

describe('placing', () => {
  const area = { top: 4, left: 1, bottom: 8, right: 3 };
  const place = async (change: object, code: number) => {
    const [tether] = await tethersOf(report.id);
    const body = {
      sourceId: tether!.source.id,
      reach: { kind: 'block', sheet: 'Counts', area },
      name: 'Part',
      ...change,
    };
    return ines.post(`/api/documents/${report.id}/tethers`).send(body).expect(code);
  };

  test('ties what the cells hold now', async () => {
    const { body } = await place({ reach: { kind: 'block', sheet: 'counts', area } }, 201);
    expect(body).toMatchObject({
      name: 'Part',
      standing: 'in step',
      placed: false,
      reach: { sheet: 'Counts', area },
    });
    const snapshot = (await ines.get(`/api/snapshots/${body.base}`)).body;
    expect(snapshot.cells[0]).toMatchObject({ row: 4, column: 1, value: 'Plot' });
  });

  test.each([
    [{ reach: { kind: 'block', sheet: 'Plots', area } }, 422, 'sheet-missing'],
    [
      { reach: { kind: 'block', sheet: 'Counts', area: { ...area, bottom: 2_000_000 } } },
      422,
      'reference-outside-sheet',
    ],
    [
      { reach: { kind: 'block', sheet: 'Counts', area: { ...area, bottom: 1 } } },
      422,
      'reference-outside-sheet',
    ],
    [
      { reach: { kind: 'block', sheet: 'Counts', area: { ...area, bottom: 900_000 } } },
      422,
      'reach-too-large',
    ],
    [{ sourceId: randomUUID() }, 404, 'not-found'],
    [{ name: '' }, 400, 'request-malformed'],
    [{ reach: { kind: 'spiral' } }, 400, 'request-malformed'],
  ])('refuses %j', async (change, status, code) => {
    expect((await place(change, status)).body.fault.code).toBe(code);
  });
});

describe('looking into a source', () => {
  test('gives its sheets with what they use, and cells piece by piece', async () => {
    const [tether] = await tethersOf(report.id);
    const { id } = tether!.source;
    const contents = (await ines.get(`/api/sources/${id}/contents`)).body;
    expect(contents.sheets.map(({ name }: { name: string }) => name)).toEqual(['Counts', 'Notes']);
    expect(contents.sheets[0].usedArea).toEqual({ top: 1, left: 1, bottom: 17, right: 7 });
    const cells = (await ines.get(`/api/sources/${id}/cells?sheet=Counts&reference=A4:B5`)).body
      .cells;
    expect(cells.map(({ text }: { text: string }) => text)).toEqual([
      'Plot',
      'Species',
      'SC-01',
      'Common cordgrass',
    ]);
  });

  test.each([
    ['sheet=Counts&reference=A0', 'reference-outside-sheet'],
    ['sheet=Counts&reference=what', 'reference-malformed'],
    ['sheet=Counts&reference=A:Z', 'reach-too-large'],
    ['sheet=None&reference=A1', 'sheet-missing'],
  ])('says what is wrong with %s', async (query, code) => {
    const [tether] = await tethersOf(report.id);
    const answer = await ines.get(`/api/sources/${tether!.source.id}/cells?${query}`).expect(422);
    expect(answer.body.fault.code).toBe(code);
  });
});

test('ids that are none, JSON that is none and addresses that lead nowhere get a sentence', async () => {
  expect((await ines.get('/api/documents/7').expect(404)).body.fault.code).toBe('not-found');
  expect((await ines.get(`/api/documents/${randomUUID()}`).expect(404)).body.fault.code).toBe(
    'not-found',
  );
  expect((await ines.get('/api/tethers/x/slip').expect(404)).body.fault.code).toBe('not-found');
  expect((await ines.get('/api/nowhere').expect(404)).body.fault.code).toBe('not-found');
  const broken = await ines
    .post('/api/documents')
    .set('content-type', 'application/json')
    .send('{')
    .expect(400);
  expect(broken.body.fault.code).toBe('request-malformed');
  const deep = { name: 'Deep', content: nested(80) };
  expect((await ines.post('/api/documents').send(deep).expect(400)).body.fault.code).toBe(
    'request-malformed',
  );
});

function nested(levels: number): object {
  let node: object = { type: 'paragraph' };
  for (let n = 0; n < levels; n++) node = { type: 'blockquote', content: [node] };
  return { type: 'doc', content: [node] };
}

describe('printing', () => {
  test('a document that is not there is not found', async () => {
    const answer = await ines.get(`/api/documents/${randomUUID()}/print`).expect(404);
    expect(answer.body.fault.code).toBe('not-found');
  });

  test('without a Chromium it says so and what else can be done', async () => {
    const answer = await ines.get(`/api/documents/${report.id}/print`).expect(200);
    const lines = answer.text.trim().split('\n');
    expect(printProgressSchema.parse(JSON.parse(lines.at(-1)!))).toMatchObject({
      fault: { code: 'printer-missing', hint: expect.stringContaining('your own browser') },
    });
  });

  test('a printed file that nobody printed is not found', async () => {
    await ines.get(`/api/documents/${report.id}/print/${randomUUID()}`).expect(404);
  });
});

describe('what is settled for a document', () => {
  test('is kept with its text', async () => {
    const before = await current();
    const paper = { ...USUAL_PAPER, isLandscape: true };
    const content = { ...before.content, attrs: { paper } };
    await ines
      .put(`/api/documents/${report.id}/content`)
      .send({ version: before.version, content })
      .expect(200);
    expect(reportSettings((await current()).content)).toMatchObject({ paper });
  });

  test('is as usual where it makes no sense', () => {
    const odd = { attrs: { paper: { size: 'A0' }, look: 'loud', header: null } };
    expect(reportSettings(odd)).toEqual(reportSettings({}));
  });
});

describe('pictures of documents', () => {
  const drawing = (inner = '<rect width="9" height="9"/>') =>
    Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" width="120" height="80">${inner}</svg>`);
  const take = (client: Client, bytes: Buffer) =>
    client
      .post(`/api/documents/${report.id}/pictures`)
      .set('content-type', 'application/octet-stream')
      .send(bytes);

  test('are kept once by their bytes, and sent as what they are', async () => {
    const first = await take(ines, drawing());
    expect(first.status).toBe(201);
    expect(first.body).toEqual({
      hash: expect.stringMatching(/^[0-9a-f]{64}$/),
      width: 120,
      height: 80,
      isLines: true,
      hasUnit: false,
    });
    expect((await take(ines, drawing())).body).toEqual(first.body);
    const sent = await ines.get(`/api/pictures/${first.body.hash}`);
    expect(sent.headers['content-type']).toBe('image/svg+xml');
    expect(sent.headers['content-security-policy']).toMatch(/^sandbox; default-src 'none'/);
    expect(sent.body.toString()).toBe(drawing().toString());
  });

  test('are sent without layers that are not wanted, and in grey', async () => {
    const plan = drawing('<g id="marsh"><path fill="#ff0000"/></g><g><title>Deck</title></g>');
    const { hash } = (await take(ines, plan)).body as { hash: string };
    expect((await ines.get(`/api/pictures/${hash}/layers`)).body).toEqual([
      { key: '1', name: 'marsh' },
      { key: '2', name: 'Deck' },
    ]);
    const less = await ines.get(`/api/pictures/${hash}?without=2&grey`);
    expect(less.body.toString()).toContain(':root>g:nth-of-type(2){display:none!important}');
    expect(less.body.toString()).toContain('fill="#363636"');
    expect((await ines.get(`/api/pictures/${'0'.repeat(64)}/layers`)).status).toBe(404);
  });

  test('are refused where they are none, hold more than a drawing, or are too large', async () => {
    const none = await take(ines, Buffer.from('words'));
    expect(none.body.fault.code).toBe('picture-unknown');
    const unsafe = await take(ines, drawing('<script>alert(1)</script>'));
    expect(unsafe.body.fault.code).toBe('picture-unsafe');
    const large = await take(ines, Buffer.alloc((20 << 20) + 1));
    expect(large.body.fault).toMatchObject({
      code: 'request-malformed',
      message: expect.stringContaining('larger than is taken here'),
    });
    expect((await ines.get(`/api/pictures/${'0'.repeat(64)}`)).status).toBe(404);
  });

  test('are taken from those who may change the document alone', async () => {
    const odile = await server.as('odile');
    expect((await take(odile, drawing())).status).toBe(403);
  });
});
