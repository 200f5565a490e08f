import { fail, type Result } from '@tether/core';
import { XmlError } from './xml-scanner.ts';

/** Turns what a scan of malformed XML throws into a fault of the file that is shown as `path`. */
export async function guard<T>(path: string, work: () => Promise<Result<T>>): Promise<Result<T>> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof XmlError) {
      return fail('source-damaged', { path, detail: 'one of its parts is not well-formed XML' });
    }
    throw error;
  }
}
