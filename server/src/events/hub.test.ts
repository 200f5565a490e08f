import { EventEmitter } from 'node:events';
import type { ServerResponse } from 'node:http';
import { afterEach, describe, expect, test } from '@jest/globals';
import { EventHub } from './hub.ts';

const hubs: EventHub[] = [];
afterEach(() => {
  for (const hub of hubs.splice(0)) hub.close();
});

function newHub(): EventHub {
  const hub = new EventHub();
  hubs.push(hub);
  return hub;
}

/** A screen that keeps what it was sent. */
function screen(hub: EventHub, lastId?: string) {
  let text = '';
  const response = Object.assign(new EventEmitter(), {
    writeHead: () => response,
    write: (part: string) => {
      text += part;
      return true;
    },
    end: () => response,
  });
  hub.attach(response as unknown as ServerResponse, lastId);
  return {
    kinds: () => [...text.matchAll(/"kind":"(\w+)"/g)].map((match) => match[1]),
    told: () => [...text.matchAll(/"hasDatabase":(\w+)/g)].map(([, is]) => is === 'true'),
    lastId: () => [...text.matchAll(/^id: (.+)$/gm)].at(-1)?.[1],
    close: () => response.emit('close'),
  };
}

describe('live events', () => {
  test('reach every open screen and none that was closed', () => {
    const hub = newHub();
    const [one, two] = [screen(hub), screen(hub)];
    hub.publish({ kind: 'log' });
    two.close();
    hub.publish({ kind: 'sources' });
    expect(one.kinds()).toEqual(['resync', 'log', 'sources']);
    expect(two.kinds()).toEqual(['resync', 'log']);
  });

  test('tell at once that the database went away, and that it is there again', () => {
    const hub = newHub();
    const one = screen(hub);
    hub.setDatabase(true);
    hub.setDatabase(false);
    const late = screen(hub);
    hub.setDatabase(true);
    expect(one.told()).toEqual([false, false, true]);
    expect(late.told()).toEqual([false, true]);
  });

  test('missed while the connection was lost come with the next one', () => {
    const hub = newHub();
    const first = screen(hub);
    hub.publish({ kind: 'log' });
    const id = first.lastId();
    first.close();
    hub.publish({ kind: 'sources' });
    hub.publish({ kind: 'log' });
    expect(screen(hub, id).kinds()).toEqual(['sources', 'log']);
    expect(screen(hub, screen(hub, id).lastId()).kinds()).toEqual([]);
  });

  test.each([
    'after a restart of the server',
    'after more than is kept',
    'with an id that makes no sense',
  ])('become a resync %s', (when) => {
    const hub = newHub();
    const first = screen(hub);
    let id = first.lastId();
    if (when.includes('restart')) id = screen(newHub()).lastId();
    if (when.includes('no sense')) id = 'whatever';
    if (when.includes('more')) for (let n = 0; n < 1100; n++) hub.publish({ kind: 'log' });
    expect(screen(hub, id).kinds()).toEqual(['resync']);
  });
});
