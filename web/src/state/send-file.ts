import { faultResponseSchema } from '@tether/contract';
import { type Fault, fault } from '@tether/core';

/** A file on its way to the server. */
export interface Sending<Answer> {
  done: Promise<{ answer: Answer; fault?: undefined } | { fault: Fault }>;
  stop: () => void;
}

/** Sends a file, telling how far it has come (0 to 1). */
export function sendFile<Answer>(
  to: { method: 'PUT' | 'POST'; url: string },
  file: File,
  onProgress: (share: number) => void,
): Sending<Answer> {
  // The older interface, since only it tells how much of the file has gone out.
  const request = new XMLHttpRequest();
  const cutShort = { fault: fault('upload-cut-short', { name: file.name }) };
  const done: Sending<Answer>['done'] = new Promise((resolve) => {
    request.open(to.method, `/api${to.url}`);
    request.setRequestHeader('content-type', 'application/octet-stream');
    request.upload.onprogress = ({ loaded, total }) => onProgress(total === 0 ? 0 : loaded / total);
    request.onload = () => {
      const answer = parsed(request.responseText);
      if (request.status < 300) return resolve({ answer: answer as Answer });
      const refused = faultResponseSchema.safeParse(answer);
      resolve(refused.success ? { fault: refused.data.fault } : cutShort);
    };
    request.onerror = () => resolve(cutShort);
    request.onabort = () => resolve(cutShort);
    request.send(file);
  });
  return { done, stop: () => request.abort() };
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
