import type { SheetHeadings, SourceContents, SourceReading, TakePreview } from '@tether/contract';
import type {
  Anchor,
  Area,
  ChartData,
  Fault,
  PastedCells,
  Placement,
  Reach,
  Result,
  SheetSummary,
  Snapshot,
  Taken,
} from '@tether/core';
import type { SourcePrint } from '../../db/schema.ts';
import type { Followed, FollowedReach } from '../../following/followed.ts';

/** What one reading of a file is asked for. Several placed objects out of one file are one reading. */
export interface ReadingRequest {
  /** Absolute path, found to lie inside its folder a moment ago. */
  path: string;
  /** That folder: what is opened must lie inside it. */
  root: string;
  /** The name to put into faults. */
  shownPath: string;
  reaches: Reach[];
  /** A reach to look at before anything is placed: of a long one its first rows. */
  preview?: Reach;
  /** Reaches to take and compare with what objects show of them. */
  follow?: FollowedReach[];
  /** The sheets as they were when `follow` was last taken, packed; null where that is not kept. */
  before?: Uint8Array | null;
  /** Pieces of sheets to look at, as they are. */
  areas?: { sheet: string; area: Area }[];
  /** Also tell what is on every sheet. */
  withOutline?: boolean;
  /** Also tell what stands at the head of the sheets. */
  withHeadings?: boolean;
  /** Also tell the marks of what it holds (`core/lookup`). */
  withMarks?: boolean;
  /** Also tell by what it is found again when it goes elsewhere. */
  withPrint?: boolean;
  /** Also tell where these snapshots stand in it, packed. */
  anchor?: { packed: Uint8Array; sheets: string[] }[];
  /** Also tell where these cells stand in it. */
  find?: PastedCells;
  /** Also tell what this chart draws. */
  chart?: string;
  /** How the source is read where somebody said otherwise than is found. */
  reading?: SourceReading | null;
  /** When the bytes still have this hash, nothing is read and the outcome says `isSame`. */
  unlessHash?: string;
}

/** Where looked-for cells stand in the source. */
export type FoundCells = Placement & { sheet: string };

/** Where a snapshot stands in a source. */
export interface Anchored extends Pick<Anchor, 'sheet' | 'area' | 'isCertain' | 'reasons'> {
  /** Share of its cells that hold the same there. */
  share: number;
}

/** What one reading gave, all from the same state of the file. */
export interface Reading {
  /** SHA-256 of the bytes read. */
  hash: string;
  bytes: number;
  /** Its last letter is no line end: of a text, that its last line may not be whole yet. */
  isOpenEnded: boolean;
  /** The bytes have the hash the request knew already; the rest is empty. */
  isSame: boolean;
  sheets: SheetSummary[];
  /** One result for each reach asked for, in their order. */
  taken: Result<Taken>[];
  preview: Result<TakePreview> | null;
  /** One result for each reach to follow, in their order. */
  followed: Result<Followed>[];
  /** One result for each area asked for, in their order. */
  areas: Result<Snapshot>[];
  outline: Omit<SourceContents, 'hash'> | null;
  headings: SheetHeadings[];
  marks: number[];
  print: { print: SourcePrint; sheets: Uint8Array | null } | null;
  /** One result for each snapshot asked for, in their order; null where it is not found. */
  anchored: (Anchored | null)[];
  found: FoundCells[];
  chart: Result<ChartData> | null;
}

/** Outcome of a reading: a fault of the whole file still tells the hash and size where the bytes could be read. */
export type ReadingOutcome =
  | { ok: true; value: Reading }
  | { ok: false; fault: Fault; hash: string | null; bytes: number };
