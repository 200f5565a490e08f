import pg from 'pg';
import { CHANNELS } from './announce.ts';

type Channel = keyof typeof CHANNELS;

const RETRY_MS = 500;

/** Hears what processes tell each other through the database, also after the connection was lost. */
export class DatabaseFeed {
  private client: pg.Client | null = null;
  private isStopped = false;

  constructor(
    private readonly url: string,
    private readonly handlers: Partial<Record<Channel, (text: string) => void>>,
    /** Called when the connection stands again: what was told meanwhile was not heard. */
    private readonly onGap: () => void,
    /** Called when the connection is lost. */
    private readonly onLost: () => void = () => undefined,
  ) {}

  async start(): Promise<void> {
    const client = new pg.Client({
      connectionString: this.url,
      keepAlive: true,
      keepAliveInitialDelayMillis: 10_000,
    });
    client.on('error', () => undefined);
    client.on('end', () => {
      if (this.client !== client || this.isStopped) return;
      this.client = null;
      this.onLost();
      void this.comeBack();
    });
    client.on('notification', ({ channel, payload }) => {
      for (const [name, handle] of Object.entries(this.handlers)) {
        if (CHANNELS[name as Channel] === channel) handle(payload ?? '');
      }
    });
    await client.connect();
    for (const name of Object.keys(this.handlers)) {
      await client.query(`listen ${CHANNELS[name as Channel]}`);
    }
    this.client = client;
  }

  async stop(): Promise<void> {
    this.isStopped = true;
    await this.client?.end();
  }

  private async comeBack(): Promise<void> {
    while (!this.isStopped && this.client === null) {
      await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
      await this.start().then(this.onGap, () => undefined);
    }
  }
}
