/** What a file may at most hold. Counted while it is read, so that a small file that unfolds into a huge one is refused early. */
export interface FileLimits {
  /** After decompression */
  bytes: number;
  rows: number;
  columns: number;
  /** Rows times columns of a table that is read in large parts, as Parquet is */
  cells: number;
}

/** A million rows of 13 columns in CSV are 100 MB; ten times that is more than anybody reads in one file. */
export const FILE_LIMITS: FileLimits = { bytes: 1 << 30, rows: 10_000_000, columns: 500, cells: 100_000_000 };

/** Thrown when a file holds more than it may: which limit, how much it allows, and how much there was when it was refused. */
export class LimitExceeded extends Error {
  readonly limit: keyof FileLimits;
  readonly most: number;
  readonly found: number;

  constructor(limit: keyof FileLimits, most: number, found: number) {
    super(`${found} ${limit}, at most ${most}`);
    this.name = 'LimitExceeded';
    this.limit = limit;
    this.most = most;
    this.found = found;
  }
}

/** @throws LimitExceeded when there is more than allowed */
export function checkLimit(limits: FileLimits, limit: keyof FileLimits, found: number): void {
  if (found > limits[limit]) throw new LimitExceeded(limit, limits[limit], found);
}
