import type { Upload } from '../../api/upload.ts';
import type { SpooledFile } from '../imports/spool.ts';

/** An upload as the API tells of it. */
export function uploadRecord({ id, bytes, progress }: SpooledFile): Upload {
  return { id, bytes, ...progress };
}
