import { randomUUID } from 'node:crypto';
import type { ServerResponse } from 'node:http';
import type { LiveEvent } from '@tether/contract';

/** How many past events are kept for screens that reconnect. */
const KEPT = 1_000;
/** A screen that hears nothing for a few of these knows that its stream is dead. */
const BEAT_MS = 8_000;

/**
 * Sends events to every open screen (server-sent events, WHATWG HTML 9.2). Each event has the id `epoch-number`: a
 * screen that reconnects with the last id it saw gets what it missed, or `resync` when that is not known any more.
 */
export class EventHub {
  private readonly epoch = randomUUID().slice(0, 8);
  private readonly screens = new Set<ServerResponse>();
  private readonly past: { number: number; text: string }[] = [];
  private number = 0;
  private hasDatabase = true;
  private readonly heartbeat = setInterval(() => this.beat(), BEAT_MS).unref();

  /** The database went away, or is there again: the screens hear of it at once. */
  setDatabase(isThere: boolean): void {
    if (isThere === this.hasDatabase) return;
    this.hasDatabase = isThere;
    this.beat();
  }

  private beat(): void {
    const event: LiveEvent = { kind: 'beat', hasDatabase: this.hasDatabase };
    for (const screen of this.screens) screen.write(`data: ${JSON.stringify(event)}\n\n`);
  }

  /** Sends an event to all screens. */
  publish(event: LiveEvent): void {
    this.number++;
    const text = `id: ${this.epoch}-${this.number}\ndata: ${JSON.stringify(event)}\n\n`;
    this.past.push({ number: this.number, text });
    if (this.past.length > KEPT) this.past.shift();
    for (const screen of this.screens) screen.write(text);
  }

  /** Turns a response into a stream of events, starting after `lastId`. */
  attach(response: ServerResponse, lastId: string | undefined): void {
    response.writeHead(200, {
      'content-type': 'text/event-stream',
      'cache-control': 'no-cache, no-transform',
      'x-accel-buffering': 'no',
    });
    response.write(`retry: 1000\n\n${this.missedSince(lastId)}`);
    this.screens.add(response);
    response.on('close', () => this.screens.delete(response));
    if (!this.hasDatabase) this.beat();
  }

  /** Ends every stream. */
  close(): void {
    clearInterval(this.heartbeat);
    for (const screen of this.screens) screen.end();
    this.screens.clear();
  }

  private missedSince(lastId: string | undefined): string {
    // A new screen asks for everything once more, since something may have changed while it was loading.
    const here = `id: ${this.epoch}-${this.number}\n`;
    if (lastId === undefined) return `${here}data: {"kind":"resync"}\n\n`;
    const [epoch, number] = lastId.split('-');
    const seen = Number(number);
    const oldest = this.past[0]?.number ?? this.number + 1;
    if (epoch !== this.epoch || !(seen >= oldest - 1) || seen > this.number) {
      return `${here}data: {"kind":"resync"}\n\n`;
    }
    return this.past
      .filter((event) => event.number > seen)
      .map(({ text }) => text)
      .join('');
  }
}
