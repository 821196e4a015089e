export { checkLimit, FILE_LIMITS, type FileLimits, LimitExceeded } from './file-limits.ts';
export { isGzip, unfolded } from './gunzip.ts';
