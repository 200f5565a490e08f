import { z } from 'zod';

// The browser's content security policy allows no code made from strings, which zod tries as soon as a schema is made.
// So this comes before every schema; on the server zod may do as it likes.
if ('document' in globalThis) z.config({ jitless: true });
