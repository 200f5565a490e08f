import { createHash } from 'node:crypto';
import { access, readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { afterEach, describe, expect, test } from '@jest/globals';
import type {
  Bundle,
  BundleContents,
  BundleOpened,
  BundleSeen,
  SourceFolder,
  Tether,
} from '@tether/contract';
import { saveAsColleague, setCell } from '@tether/demo';
import { sql } from 'drizzle-orm';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { eventually, startTestServer } from './testing.fixture.ts';

type TestServer = Awaited<ReturnType<typeof startTestServer>>;
let server: TestServer;
let ines: Awaited<ReturnType<TestServer['as']>>;
let report: { id: string; name: string };

async function begin() {
  server = await startTestServer();
  ines = await server.as('ines');
  [report] = (await ines.get('/api/documents')).body;
}
afterEach(() => server?.stop());

const COUNTS = 'monitoring/planting-counts.xlsx';
const at = (path: string) => join(server.sources, path);
const folders = async (): Promise<SourceFolder[]> => (await ines.get('/api/sources')).body;
const tethers = async (document: string): Promise<Tether[]> =>
  (await ines.get(`/api/documents/${document}/tethers`)).body;
const ofCounts = (all: Tether[]) =>
  all.filter(({ source }) => source.path.endsWith('planting-counts.xlsx'));

async function pack(document = report.id): Promise<Buffer> {
  const packed = await ines
    .get(`/api/documents/${document}/bundle`)
    .buffer(true)
    .parse((response, done) => {
      const pieces: Buffer[] = [];
      response.on('data', (piece) => pieces.push(piece));
      response.on('end', () => done(null, Buffer.concat(pieces)));
    })
    .expect(200);
  return packed.body as Buffer;
}
const send = (path: string, bundle: Uint8Array, query: object) =>
  ines
    .post(path)
    .query({ file: 'report.zip', ...query })
    .set('content-type', 'application/octet-stream')
    .send(Buffer.from(bundle));
async function look(bundle: Uint8Array): Promise<BundleSeen> {
  return (await send('/api/bundles/look', bundle, {}).expect(200)).body;
}
async function open(bundle: Uint8Array, known: 'yes' | 'no' = 'yes', name = 'From a colleague') {
  const [folder] = (await folders()).filter((each) => each.name === 'Works');
  const opened = await send('/api/bundles', bundle, { folder: folder!.id, name, known });
  expect([opened.status, opened.body.fault]).toEqual([201, undefined]);
  await server.keeper.idle();
  return opened.body as BundleOpened;
}
const manifestOf = (parts: Record<string, Uint8Array>): Bundle =>
  JSON.parse(strFromU8(parts['bundle.json']!));
/** The bundle with its manifest changed, or other parts. */
function changed(
  bundle: Buffer,
  change: (manifest: Bundle, parts: Record<string, Uint8Array>) => void,
) {
  const parts = unzipSync(bundle);
  const manifest = manifestOf(parts);
  change(manifest, parts);
  return zipSync({ ...parts, 'bundle.json': strToU8(JSON.stringify(manifest)) });
}

describe('a bundle', () => {
  test('holds the document, what its objects show, and its sources byte for byte', async () => {
    await begin();
    const contents = (await ines.get(`/api/documents/${report.id}/bundle/contents`)).body;
    const { objects, edited, sources } = contents as BundleContents;
    expect([objects, edited]).toEqual([(await tethers(report.id)).length, 0]);
    expect(sources.map(({ isThere }) => isThere)).not.toContain(false);
    const parts = unzipSync(await pack());
    const manifest = manifestOf(parts);
    expect(manifest.sources.map(({ folder, path }) => `${folder}/${path}`).sort()).toEqual(
      sources.map(({ path }) => path),
    );
    for (const { folder, path, hash, part, bytes } of manifest.sources) {
      const there = await readFile(at(`${folder.toLowerCase()}/${path}`));
      expect(there.equals(parts[part!]!)).toBe(true);
      expect(createHash('sha256').update(there).digest('hex')).toBe(hash);
      expect(there.length).toBe(bytes);
    }
    const [counts] = manifest.objects.filter(({ name }) => name === 'Planting counts by plot');
    expect(strFromU8(parts[counts!.shows]!)).toContain('Sea purslane');
  }, 60_000);

  test('ties everything to the same files where these are known', async () => {
    await begin();
    const bundle = await pack();
    const seen = await look(bundle);
    expect(seen.name).toBe(`${report.name}, copy`);
    expect(seen.sources.map(({ known, path }) => known?.path === path)).not.toContain(false);
    const before = (await folders()).flatMap(({ sources }) => sources).length;
    const { documentId, copies, missing } = await open(bundle);
    expect([copies, missing]).toEqual([[], []]);
    expect((await folders()).flatMap(({ sources }) => sources)).toHaveLength(before);
    const [own, other] = [await tethers(report.id), await tethers(documentId)];
    const facts = (all: Tether[]) =>
      all
        .map(({ name, form, base, standing, source }) => [name, form, base, standing, source.id])
        .sort();
    expect(facts(other)).toEqual(facts(own));
    expect(new Set([...own, ...other].map(({ id }) => id)).size).toBe(2 * own.length);
  }, 60_000);

  test('ties everything to its copies where that is wished, and what these say later is seen', async () => {
    await begin();
    const { documentId, copies } = await open(await pack(), 'no');
    expect(copies).toContain('Works/From a colleague/Monitoring/planting-counts.xlsx');
    const copy = 'works/From a colleague/Monitoring/planting-counts.xlsx';
    expect((await readFile(at(copy))).equals(await readFile(at(COUNTS)))).toBe(true);
    const here = await tethers(documentId);
    expect(new Set(here.map(({ standing }) => standing))).toEqual(new Set(['in step']));
    expect(here.every(({ source }) => source.path.startsWith('From a colleague/'))).toBe(true);
    await saveAsColleague(at(copy), [setCell('Counts', 'D8', 111)]);
    await eventually(
      async () => ofCounts(await tethers(documentId)),
      (all) => all.every(({ standing }) => standing === 'behind'),
    );
    const own = ofCounts(await tethers(report.id));
    expect(own.map(({ standing }) => standing)).not.toContain('behind');
    // Opened again, it goes beside the first one.
    const again = await open(await pack(), 'no');
    expect(again.copies).toContain('Works/From a colleague 2/Monitoring/planting-counts.xlsx');
  }, 60_000);

  test('is opened by two people at the same time: each has copies of their own', async () => {
    await begin();
    const bundle = await pack();
    const [one, other] = await Promise.all([open(bundle, 'no'), open(bundle, 'no')]);
    const all = [...one.copies, ...other.copies];
    expect(new Set(all).size).toBe(all.length);
    for (const copy of all) await access(at(copy.replace('Works', 'works')));
    const ids = async (document: string) =>
      (await tethers(document)).map(({ source }) => source.id);
    const [own, theirs] = [await ids(one.documentId), await ids(other.documentId)];
    expect(own.some((id) => theirs.includes(id))).toBe(false);
  }, 60_000);

  test('brings what is behind, corrected or frozen as it was', async () => {
    await begin();
    const [counts] = ofCounts(await tethers(report.id));
    const others = (await tethers(report.id)).filter(({ id }) => id !== counts!.id);
    await ines.put(`/api/tethers/${others[0]!.id}/frozen`).send({ isFrozen: true }).expect(200);
    await ines.put(`/api/tethers/${counts!.id}/unlocked`).send({ unlocked: 'all' }).expect(200);
    const cells = [{ row: 9, column: 4, typed: '140' }];
    const writing = { decimal: '.', dates: 'day first' };
    await ines
      .post(`/api/tethers/${counts!.id}/edits`)
      .send({ base: counts!.base, cells, writing })
      .expect(200);
    await saveAsColleague(at(COUNTS), [setCell('Counts', 'D8', 111)]);
    await eventually(
      async () => ofCounts(await tethers(report.id)),
      (all) => all.every(({ standing }) => standing === 'behind'),
    );
    const { documentId } = await open(await pack(), 'no');
    const facts = (all: Tether[]) =>
      all
        .map(({ name, standing, base, shown, pending, editCount, unlocked }) => ({
          ...{ name, standing, base, shown, pending, editCount, unlocked },
        }))
        .sort((a, b) => (a.name < b.name ? -1 : 1));
    const there = facts(await tethers(documentId));
    expect(there).toEqual(facts(await tethers(report.id)));
    expect(there.find(({ name }) => name === counts!.name)).toMatchObject({
      standing: 'behind',
      editCount: 1,
    });
  }, 60_000);

  test('brings pictures, each checked by its hash', async () => {
    await begin();
    const dot = Buffer.from(
      'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
      'base64',
    );
    const { hash } = (
      await ines
        .post(`/api/documents/${report.id}/pictures`)
        .set('content-type', 'image/png')
        .send(dot)
        .expect(201)
    ).body;
    const { version, content } = (await ines.get(`/api/documents/${report.id}`)).body;
    const attrs = { id: null, hash, alt: 'A dot', pixelWidth: 1, pixelHeight: 1, width: null };
    content.content.push({ type: 'picture', attrs });
    const saved = { version, content };
    await ines.put(`/api/documents/${report.id}/content`).send(saved).expect(200);
    const bundle = await pack();
    const parts = unzipSync(bundle);
    const [picture] = manifestOf(parts).pictures;
    expect(picture!.hash).toBe(hash);
    expect(dot.equals(parts[picture!.part]!)).toBe(true);
    // Where nobody has it yet it is kept from then on.
    await server.db.execute(sql`delete from pictures`);
    await ines.get(`/api/pictures/${hash}`).expect(404);
    const { documentId } = await open(bundle);
    await ines.get(`/api/pictures/${hash}`).expect(200);
    expect(JSON.stringify((await ines.get(`/api/documents/${documentId}`)).body.content)).toContain(
      hash,
    );
    const other = changed(bundle, ({ pictures }, all) => {
      all[pictures[0]!.part] = dot.subarray(0, 40);
    });
    const [folder] = await folders();
    const query = { folder: folder!.id, name: 'Odd', known: 'no' };
    const { fault } = (await send('/api/bundles', other, query).expect(422)).body;
    expect(fault.message).toContain('its picture');
  }, 60_000);

  test('names a source that was not there; its object keeps what it shows', async () => {
    await begin();
    await rm(at(COUNTS));
    await eventually(
      async () => ofCounts(await tethers(report.id)),
      (all) => all.every(({ standing }) => standing === 'adrift'),
    );
    const bundle = changed(await pack(), ({ sources }) => {
      // As if it came from where other folders are.
      for (const source of sources) source.folder = 'Elsewhere';
    });
    expect((await look(bundle)).sources.filter(({ hasCopy }) => !hasCopy)).toMatchObject([
      { path: 'Elsewhere/planting-counts.xlsx', known: null },
    ]);
    const { documentId, missing } = await open(bundle);
    expect(missing).toEqual(['Elsewhere/planting-counts.xlsx']);
    const [own] = ofCounts(await tethers(report.id));
    expect(ofCounts(await tethers(documentId))).toMatchObject([
      { standing: 'adrift', base: own!.base, reason: { code: 'source-missing' } },
    ]);
  }, 60_000);
});

describe('what is no bundle', () => {
  test('is refused with what is wrong, and nothing of it is kept', async () => {
    await begin();
    const bundle = await pack();
    const [folder] = await folders();
    const wrong: [Uint8Array, string, string][] = [
      [Buffer.from('Sallow Creek'), 'bundle-not-one', 'no zip'],
      [zipSync({ a: strToU8('b') }), 'bundle-not-one', 'no bundle.json'],
      [zipSync({ 'bundle.json': strToU8('{') }), 'bundle-not-one', 'no JSON'],
      [zipSync({ 'bundle.json': strToU8('['.repeat(900)) }), 'bundle-not-one', 'too deeply'],
      [zipSync({ 'bundle.json': strToU8('{"a":"\\u0000"}') }), 'bundle-not-one', 'U+0000'],
      [
        changed(bundle, (manifest) => Object.assign(manifest, { version: 2 })),
        'bundle-newer',
        'later version',
      ],
      [
        changed(bundle, ({ sources }) => Object.assign(sources[0]!, { path: '' })),
        'bundle-not-one',
        'sources.0.path',
      ],
      [changed(bundle, ({ sources }) => void sources.splice(0)), 'bundle-not-one', 'source of'],
      [bundle.subarray(0, bundle.length >> 1), 'bundle-not-one', 'not whole'],
    ];
    const late: [Uint8Array, string, string][] = [
      [
        changed(bundle, ({ sources }, parts) => {
          parts[sources[0]!.part!] = strToU8('other bytes');
        }),
        'bundle-not-one',
        'is damaged',
      ],
      [
        changed(bundle, ({ objects }, parts) => {
          parts[objects[0]!.shows] = strToU8('{"sheet":"A","cells":[{}]}');
        }),
        'bundle-not-one',
        'is damaged',
      ],
      [
        changed(bundle, ({ objects }, parts) => delete parts[objects[0]!.shows]),
        'bundle-not-one',
        'is damaged',
      ],
    ];
    const query = { folder: folder!.id, name: 'Odd', known: 'no' };
    for (const [bytes, code, words] of wrong) {
      const { fault } = (await send('/api/bundles/look', bytes, {}).expect(422)).body;
      expect([fault.code, fault.message]).toEqual([code, expect.stringContaining(words)]);
    }
    for (const [bytes, code, words] of [...wrong, ...late]) {
      const { fault } = (await send('/api/bundles', bytes, query).expect(422)).body;
      expect([fault.code, fault.message]).toEqual([code, expect.stringContaining(words)]);
    }
    expect((await ines.get('/api/documents')).body).toHaveLength(1);
    expect(
      (await folders())
        .flatMap(({ sources }) => sources)
        .filter(({ path }) => path.includes('Odd')),
    ).toEqual([]);
    await expect(access(at('monitoring/Odd'))).rejects.toThrow('ENOENT');
  }, 60_000);

  test('puts nothing outside of its folder, whatever its paths say', async () => {
    await begin();
    const bundle = changed(await pack(), ({ sources }) => {
      for (const [nth, source] of sources.entries()) {
        source.folder = '..';
        source.path = [
          '../../../etc/counts.xlsx',
          '/tmp/..\\..\\a.xlsx',
          '.hidden/x',
          'CON:?.xlsx',
        ][nth % 4]!;
      }
    });
    const { copies } = await open(bundle, 'no', '../../up');
    expect(copies.length).toBeGreaterThan(0);
    for (const copy of copies) {
      expect(copy).toMatch(/^Works\/[^/]+\/[^./][^:?\\]*\.[a-z]+$/);
      await access(at(copy.replace('Works', 'works')));
    }
    // Only those who may change documents open bundles.
    const odile = await server.as('odile');
    await odile.post('/api/bundles/look?file=a').send(Buffer.from('a')).expect(403);
  }, 60_000);
});
