import { z } from 'zod';

/**
 * What the server tells every open screen. Events name what changed; the screen asks for it. `resync` means that events
 * were missed and everything on the screen should be asked for again.
 */
export const liveEventSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('tethers'), documentId: z.string() }),
  z.object({ kind: z.literal('sources') }),
  /** Something was typed into a source, or let go. */
  z.object({ kind: z.literal('entries'), sourceId: z.string() }),
  z.object({
    kind: z.literal('document'),
    documentId: z.string(),
    version: z.number(),
    by: z.string().nullable(),
  }),
  /** Something was written in a document; who has it open sees that by itself. */
  z.object({
    kind: z.literal('written'),
    documentId: z.string(),
    version: z.number(),
    by: z.string().nullable(),
  }),
  z.object({ kind: z.literal('log') }),
  z.object({ kind: z.literal('jobs') }),
  /** Nothing happened, but the connection stands; whether that of the server to its database does too. */
  z.object({ kind: z.literal('beat'), hasDatabase: z.boolean() }),
  z.object({ kind: z.literal('resync') }),
]);
export type LiveEvent = z.infer<typeof liveEventSchema>;
