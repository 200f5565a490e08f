import { type PrintProgress, printProgressSchema } from '@tether/contract';
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

/**
 * Prints a document as PDF on the server, telling how far it has come; it can be stopped. `hasMarks`: cells that changed
 * since the person last looked are marked.
 */
export function useDocumentPrint(documentId: string, hasMarks: boolean) {
  const [state, setState] = useState<PrintState>({ kind: 'idle' });
  const stopping = useRef<AbortController | null>(null);
  useEffect(() => () => stopping.current?.abort(), []);
  const address = `/api/documents/${documentId}/print`;
  // Opening the printer takes a while: it is done while the sheets are looked at. Printing itself says what is wrong.
  useEffect(() => void fetch(`/api/documents/${documentId}/printer`).catch(() => {}), [documentId]);

  const start = async () => {
    const controller = new AbortController();
    stopping.current = controller;
    setState({ kind: 'printing', words: 'Opening the printer …' });
    try {
      const response = await fetch(`${address}${hasMarks ? '?marks' : ''}`, {
        signal: controller.signal,
      });
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
  return { state, start: () => void start(), stop };
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
