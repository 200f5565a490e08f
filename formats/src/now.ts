import { isoToSerial } from '@tether/core';

/** This moment by the clock on the wall, as a serial number. */
export function serialNow(): number {
  const now = new Date();
  const local = new Date(now.getTime() - now.getTimezoneOffset() * 60_000);
  return isoToSerial(local.toISOString().slice(0, 19), '1900');
}
