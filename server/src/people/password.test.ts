import { expect, test } from '@jest/globals';
import { checkPassword, hashPassword } from './password.ts';

test('the right password passes, any other does not', async () => {
  const kept = await hashPassword('saltmarsh');
  expect(await checkPassword('saltmarsh', kept)).toBe(true);
  expect(await checkPassword('Saltmarsh', kept)).toBe(false);
  expect(await checkPassword('', kept)).toBe(false);
});

test('the same password is kept differently each time', async () => {
  expect(await hashPassword('saltmarsh')).not.toBe(await hashPassword('saltmarsh'));
});

// RFC 7914, section 12 (Test Vectors for scrypt): N = 16384, r = 8, p = 1; the first 32 of its 64 bytes, since the key's
// length only cuts the output of the last step.
test('a key made by the standard’s own example passes', async () => {
  const salt = Buffer.from('SodiumChloride').toString('base64');
  const key = Buffer.from(
    '7023bdcb3afd7348461c06cd81fd38ebfda8fbba904f8e3ea9b543f6545da1f2',
    'hex',
  ).toString('base64');
  expect(await checkPassword('pleaseletmein', `scrypt$16384$8$1$${salt}$${key}`)).toBe(true);
});

test('nobody’s password is right', async () => {
  expect(await checkPassword('', null)).toBe(false);
});
