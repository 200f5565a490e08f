import { type LiveEvent, liveEventSchema } from '@tether/contract';

const RETRY_MS = 2_000;
/** The server says every few seconds that it is there: a stream that is silent for longer is dead without knowing it. */
export const SILENT_MS = 25_000;
const CHECK_MS = 5_000;
/** Events that come close together are answered as one. */
export const TOGETHER_MS = 40;

interface Listener {
  /** What was told, a few events at once. */
  heard(events: LiveEvent[]): void;
  /** Whether the server is heard. */
  connected(isConnected: boolean): void;
  /** Whether the server has its database. */
  database(isThere: boolean): void;
}

/**
 * Listens to the server's stream of events until it is closed: also after a lost connection, a restart, or a sleep of the
 * computer, after which the stream may look open and be dead.
 */
export class LiveStream {
  private source: EventSource | null = null;
  private retry: ReturnType<typeof setTimeout> | undefined;
  private together: ReturnType<typeof setTimeout> | undefined;
  private readonly timer = setInterval(() => this.check(), CHECK_MS);
  private lastHeard = Date.now();
  private events: LiveEvent[] = [];

  constructor(
    private readonly listener: Listener,
    private readonly open: () => EventSource = () => new EventSource('/api/events'),
  ) {
    this.connect();
  }

  /** Begins a new stream, in which the server asks for everything to be looked at anew. */
  connect(): void {
    clearTimeout(this.retry);
    this.source?.close();
    this.lastHeard = Date.now();
    const stream = this.open();
    this.source = stream;
    stream.onopen = () => this.listener.connected(true);
    stream.onmessage = ({ data }: MessageEvent<string>) => this.hear(data);
    stream.onerror = () => {
      this.listener.connected(false);
      // The browser reconnects by itself unless the server refused.
      if (stream.readyState === 2) this.retry = setTimeout(() => this.connect(), RETRY_MS);
    };
  }

  /** Finds out whether the stream is dead; then a new one begins. */
  check(): void {
    if (Date.now() - this.lastHeard < SILENT_MS) return;
    this.listener.connected(false);
    this.connect();
  }

  close(): void {
    clearInterval(this.timer);
    clearTimeout(this.retry);
    clearTimeout(this.together);
    this.source?.close();
  }

  private hear(data: string): void {
    this.lastHeard = Date.now();
    const event = liveEventSchema.safeParse(JSON.parse(data));
    if (!event.success) return;
    if (event.data.kind === 'beat') {
      this.listener.database(event.data.hasDatabase);
      return;
    }
    this.events.push(event.data);
    this.together ??= setTimeout(() => {
      this.together = undefined;
      this.listener.heard(this.events.splice(0));
    }, TOGETHER_MS);
  }
}
