import { randomBytes, type ScryptOptions, scrypt, timingSafeEqual } from 'node:crypto';

const COST = { N: 16_384, r: 8, p: 1 };
const KEY_BYTES = 32;

function derive(password: string, salt: Buffer, options: ScryptOptions): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    scrypt(password.normalize('NFKC'), salt, KEY_BYTES, options, (error, key) =>
      error ? reject(error) : resolve(key),
    );
  });
}

/** The password as it is kept: `scrypt$N$r$p$salt$key` (RFC 7914), with a salt of its own. */
export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16);
  const key = await derive(password, salt, COST);
  const { N, r, p } = COST;
  return ['scrypt', N, r, p, salt.toString('base64'), key.toString('base64')].join('$');
}

/** Passwords that may wait to be checked: each takes 16 MB and a tenth of a second. */
const MOST_CHECKED = 24;
let checking = 0;

/** Whether so many passwords are being checked that no more are taken. */
export function isCheckingTooMany(): boolean {
  return checking >= MOST_CHECKED;
}

/** Whether the password is the one that was kept. Takes as long for an unknown person (`kept` null) as for a known. */
export async function checkPassword(password: string, kept: string | null): Promise<boolean> {
  checking++;
  try {
    return await isKept(password, kept);
  } finally {
    checking--;
  }
}

async function isKept(password: string, kept: string | null): Promise<boolean> {
  const [, N, r, p, salt, key] = (kept ?? `scrypt$16384$8$1$${'A'.repeat(22)}==$`).split('$');
  const derived = await derive(password, Buffer.from(salt!, 'base64'), {
    N: Number(N),
    r: Number(r),
    p: Number(p),
  });
  const expected = Buffer.from(key!, 'base64');
  return expected.length === derived.length && timingSafeEqual(expected, derived);
}
