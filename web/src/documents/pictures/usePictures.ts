import type { KeptPicture } from '@tether/contract';
import { type Fault, fault } from '@tether/core';
import { useState } from 'react';
import { faultOf, useTakePictureMutation } from '../../state/api.ts';
import { type PastedPage, withPictures } from './pasted-page.ts';

/** The kinds of pictures that a document holds, for boxes that choose files. */
export const PICTURE_KINDS = 'image/png,image/jpeg,image/webp,image/svg+xml';
/** Bytes of a picture that the server takes. */
const MOST_BYTES = 20 << 20;

/** A picture that the server has. */
export type TakenPicture = KeptPicture;

/** Pictures among what comes in; none where words or cells come along, which say more. */
export function picturesAmong(data: DataTransfer | null): File[] {
  if (!data || data.getData('text/plain') !== '') return [];
  return [...data.files].filter(({ type }) => type.startsWith('image/'));
}

/** Takes pictures into a document, one after the other, and tells of each; and what stands in the way. */
export function usePictures(documentId: string, onTaken: (picture: TakenPicture) => void) {
  const [take] = useTakePictureMutation();
  const [coming, setComing] = useState(0);
  const [problem, setProblem] = useState<Fault | null>(null);
  const takeOne = async (file: File): Promise<TakenPicture | null> => {
    try {
      if (file.size > MOST_BYTES) {
        setProblem(fault('picture-too-large', { most: `${MOST_BYTES >> 20} MB` }));
        return null;
      }
      const taken = await take({ id: documentId, picture: await clean(file) });
      if (taken.error) setProblem(faultOf(taken.error));
      return taken.data ?? null;
    } finally {
      setComing((left) => left - 1);
    }
  };
  const takeIn = async (files: readonly File[]) => {
    setProblem(null);
    setComing(files.length);
    for (const file of files) {
      const taken = await takeOne(file);
      if (taken) onTaken(taken);
    }
  };
  /** Takes in the pictures of a pasted page; gives the page with them. */
  const takePage = async (page: PastedPage): Promise<string> => {
    setProblem(null);
    setComing(page.pictures.length);
    const taken: (TakenPicture | null)[] = [];
    for (const file of page.pictures) {
      const one = await takeOne(file);
      taken.push(one);
    }
    if (page.elsewhere > 0)
      setProblem(fault('pictures-elsewhere', { count: String(page.elsewhere) }));
    return withPictures(page, taken);
  };
  return { takeIn, takePage, coming, problem, forget: () => setProblem(null) };
}

/** A drawing loses what is no drawing before it is sent; the library for that comes when it is needed. */
async function clean(file: File): Promise<Blob> {
  if (file.type !== 'image/svg+xml') return file;
  const { cleanDrawing } = await import('./clean-drawing.ts');
  return new Blob([cleanDrawing(await file.text())], { type: file.type });
}
