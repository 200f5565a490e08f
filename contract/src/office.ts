import { z } from 'zod';

/** Something that an act of the stand-in office must be told. */
export interface OfficeAsk {
  label: string;
  /** A file, a folder or either of them, below the sources; or words. */
  kind: 'file' | 'folder' | 'either' | 'words';
  example: string;
  isOptional?: boolean;
}

/** What the stand-in office can do, to which files, and how many of its acts can be undone. */
export interface OfficeSeen {
  acts: { name: string; says: string; asks: OfficeAsk[] }[];
  files: string[];
  folders: string[];
  done: number;
}

export const officeActSchema = z.object({
  name: z.string().min(1).max(40),
  words: z.array(z.string().max(400)).max(8),
});
export type OfficeAct = z.infer<typeof officeActSchema>;
