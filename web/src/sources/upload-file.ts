import { faultResponseSchema } from '@tether/contract';
import { type Fault, fault } from '@tether/core';

/** A file on its way to a source folder. */
export interface Upload {
  done: Promise<Fault | null>;
  stop: () => void;
}

/** Sends a file into a folder, telling how far it has come (0 to 1). What stops it is a fault; null is a success. */
export function uploadFile(
  folderId: string,
  file: File,
  onProgress: (share: number) => void,
): Upload {
  // The older interface, since only it tells how much of the file has gone out.
  const request = new XMLHttpRequest();
  const done = new Promise<Fault | null>((resolve) => {
    request.open(
      'PUT',
      `/api/source-folders/${folderId}/files?${new URLSearchParams({ name: file.name })}`,
    );
    request.setRequestHeader('content-type', 'application/octet-stream');
    request.upload.onprogress = ({ loaded, total }) => onProgress(total === 0 ? 0 : loaded / total);
    request.onload = () => {
      if (request.status < 300) return resolve(null);
      resolve(faultFrom(request.responseText) ?? fault('upload-cut-short', { name: file.name }));
    };
    request.onerror = () => resolve(fault('upload-cut-short', { name: file.name }));
    request.onabort = () => resolve(fault('upload-cut-short', { name: file.name }));
    request.send(file);
  });
  return { done, stop: () => request.abort() };
}

function faultFrom(text: string): Fault | null {
  try {
    const parsed = faultResponseSchema.safeParse(JSON.parse(text));
    return parsed.success ? parsed.data.fault : null;
  } catch {
    return null;
  }
}
