/**
 * When the parts of a made package were packed. It is the same always: a package keeps this time to two seconds, so that
 * two made one after the other would differ now and then.
 */
export const PACKED_ON = new Date(2026, 2, 2, 9);
