import type { Form } from './form.ts';

/** As what an object is counted in captions and lists. */
export const CAPTION_KINDS = ['table', 'figure'] as const;
export type CaptionKind = (typeof CAPTION_KINDS)[number];

/** As what an object of this form is usually counted. */
export function usualCaption(form: Form): CaptionKind {
  return form === 'chart' ? 'figure' : 'table';
}

/** A captioned object with its number among those of its kind. */
export interface NumberedCaption {
  /** Of the object's tether; of a picture its own id. */
  tetherId: string;
  kind: CaptionKind;
  number: number;
}

/** How an object is called by its number: `Table 3`. */
export function captionName({ kind, number }: Pick<NumberedCaption, 'kind' | 'number'>): string {
  return `${kind === 'table' ? 'Table' : 'Figure'} ${number}`;
}

/** Counts captions in reading order, each kind by itself. `captions` are those of the text from top to bottom. */
export function numberCaptions(
  captions: readonly { tetherId: string; kind: CaptionKind }[],
): NumberedCaption[] {
  const counts = { table: 0, figure: 0 };
  return captions.map(({ tetherId, kind }) => ({ tetherId, kind, number: ++counts[kind] }));
}
