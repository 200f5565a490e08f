import { z } from 'zod';

/** What a person may do: an owner and an editor change things, a viewer looks. */
export const roleSchema = z.enum(['owner', 'editor', 'viewer']);
export type Role = z.infer<typeof roleSchema>;

export const signInRequestSchema = z.object({
  signInName: z.string().trim().min(1).max(100),
  password: z.string().min(1).max(200),
});
export type SignInRequest = z.infer<typeof signInRequestSchema>;

/** The person who is signed in. */
export interface Person {
  id: string;
  name: string;
  title: string;
  role: Role;
}

/** A demo person as the sign-in page offers them. */
export interface DemoPerson {
  name: string;
  title: string;
  signInName: string;
  password: string;
}
