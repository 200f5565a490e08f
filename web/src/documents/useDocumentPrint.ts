import { type PrintForm, type PrintProgress, printProgressSchema } from '@tether/contract';
import { type Fault, fault } from '@tether/core';
import { useEffect, useRef, useState } from 'react';

export type PrintState =
  | { kind: 'idle' }
  | { kind: 'printing'; words: string }
  | { kind: 'failed'; fault: Fault };

function wordsFor(line: PrintProgress): string {
  if (!('step' in line)) return 'Done';
  switch (line.step) {
    case 'opening':
      return 'Opening the printer …';
    case 'breaking into pages':
      return 'Breaking into pages …';
    case 'printing':
      return `Printing ${line.pages} ${line.pages === 1 ? 'page' : 'pages'} …`;
  }
}

/** As what a document is written out. */
export interface PrintChoice {
  as: PrintForm;
  /** The page, from 1; left out for all of them. */
  page?: number;
  /** Dots to the inch of pictures. */
  dots?: number;
}

/**
 * Writes a document out on the server, telling how far it has come; it can be stopped. `shown`: what else the address of the
 * sheets says, such as that cells that changed are marked.
 */
export function useDocumentPrint(documentId: string, shown: readonly string[]) {
  const [state, setState] = useState<PrintState>({ kind: 'idle' });
  const stopping = useRef<AbortController | null>(null);
  useEffect(() => () => stopping.current?.abort(), []);
  const address = `/api/documents/${documentId}/print`;
  // Opening the printer takes a while: it is done while the sheets are looked at. Printing itself says what is wrong.
  useEffect(() => void fetch(`/api/documents/${documentId}/printer`).catch(() => {}), [documentId]);

  const start = async (choice: PrintChoice) => {
    const controller = new AbortController();
    stopping.current = controller;
    setState({ kind: 'printing', words: 'Opening the printer …' });
    try {
      const query = new URLSearchParams(shown.map((each) => [each, '']));
      for (const [name, value] of Object.entries(choice)) query.set(name, String(value));
      const response = await fetch(`${address}?${query}`, { signal: controller.signal });
      for await (const line of linesOf(response)) {
        const told = printProgressSchema.parse(JSON.parse(line));
        if ('fault' in told) return setState({ kind: 'failed', fault: told.fault });
        if ('file' in told) {
          fetchFile(`${address}/${told.file}`);
          return setState({ kind: 'idle' });
        }
        setState({ kind: 'printing', words: wordsFor(told) });
      }
      setState({ kind: 'failed', fault: fault('unexpected', { detail: 'printing broke off' }) });
    } catch {
      setState(
        controller.signal.aborted
          ? { kind: 'idle' }
          : {
              kind: 'failed',
              fault: fault('unexpected', { detail: 'the server cannot be reached' }),
            },
      );
    }
  };
  const stop = () => stopping.current?.abort();
  return { state, start: (choice: PrintChoice) => void start(choice), stop };
}

async function* linesOf(response: Response): AsyncGenerator<string> {
  const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
  let kept = '';
  for (;;) {
    const { value, done } = await reader.read();
    if (done) break;
    const lines = (kept + value).split('\n');
    kept = lines.pop()!;
    yield* lines;
  }
  if (kept.trim() !== '') yield kept;
}

function fetchFile(address: string): void {
  const link = document.createElement('a');
  link.href = address;
  link.download = '';
  link.click();
}
