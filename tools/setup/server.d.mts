export function serverEnvironment(settings: {
  url: string;
  port: number;
  sources: string;
}): Record<string, string | undefined>;

export interface RunningServer {
  port: number;
  pid: number;
  stop(): Promise<void>;
  ended: Promise<number>;
}

export function startServer(
  environment: Record<string, string | undefined>,
  options?: { onLine?: (line: string) => void },
): Promise<RunningServer>;
