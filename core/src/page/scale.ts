import { fail, ok, type Result } from '../fault.ts';

/** Millimetres of a sheet for one millimetre of what is drawn: 0.02 is 1:50. */
export type Scale = number;

/** Scales recommended by ISO 5455:1979, table 1, from the largest to the smallest, as they are written. */
export const RECOMMENDED_SCALES = [
  '50:1',
  '20:1',
  '10:1',
  '5:1',
  '2:1',
  '1:1',
  '1:2',
  '1:5',
  '1:10',
  '1:20',
  '1:50',
  '1:100',
  '1:200',
  '1:500',
  '1:1000',
  '1:2000',
  '1:5000',
  '1:10000',
] as const;

const LEAST = 1e-7;
const MOST = 1e4;

/**
 * Reads a scale as it is written: `1:50`, `2:1`, `1 : 12,5`. Fault: `scale-malformed`, also for one with a nought and for
 * one that no sheet can show.
 */
export function readScale(text: string): Result<Scale> {
  const found = /^\s*(\d+(?:[.,]\d+)?)\s*:\s*(\d+(?:[.,]\d+)?)\s*$/.exec(text);
  const [onSheet, inTruth] = found
    ? [found[1]!, found[2]!].map((part) => Number(part.replace(',', '.')))
    : [0, 0];
  const scale = onSheet! / inTruth!;
  if (!(scale >= LEAST && scale <= MOST)) return fail('scale-malformed', { text });
  return ok(scale);
}

/** A scale as it is written on a drawing: `1:50`, `5:1`. */
export function writeScale(scale: Scale): string {
  const known = RECOMMENDED_SCALES.find((each) => isSame(ratioOf(each), scale));
  if (known) return known;
  return scale >= 1 ? `${round(scale)}:1` : `1:${round(1 / scale)}`;
}

/** Whether a scale is one that ISO 5455 recommends. */
export function isRecommended(scale: Scale): boolean {
  return RECOMMENDED_SCALES.some((each) => isSame(ratioOf(each), scale));
}

/** The largest recommended scale at which something fits into a room, both in millimetres; the smallest where none does. */
export function scaleToFit(
  what: { width: number; height: number },
  room: { width: number; height: number },
): Scale {
  const scales = RECOMMENDED_SCALES.map(ratioOf);
  return (
    scales.find((each) => what.width * each <= room.width && what.height * each <= room.height) ??
    scales.at(-1)!
  );
}

function ratioOf(written: string): Scale {
  const [a, b] = written.split(':').map(Number);
  return a! / b!;
}

const isSame = (a: number, b: number) => Math.abs(a - b) <= 1e-9 * Math.max(a, b);
const round = (value: number) => Number(value.toPrecision(6));
