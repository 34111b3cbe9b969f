import type { Dictionary } from '@rook-scale/core/table';
import { readerAtHand } from './kept-readers.ts';
import { Reader, type Following } from './reader.ts';
import type { ColumnsRead } from './reader-protocol.ts';
import { keptUpload } from './uploads.ts';

/** Columns of an upload as a dictionary has them read: from the cells at hand, or from the kept file. */
export async function readColumns(
  uploadId: string,
  dictionary: Dictionary,
  following: Following,
): Promise<ColumnsRead> {
  const { reading, rowCount, size } = await keptUpload(uploadId);
  const atHand = readerAtHand(uploadId);
  if (atHand?.rest()) return atHand.columns(dictionary, size, following);
  const reader = new Reader();
  try {
    return await reader.build({ id: uploadId, size }, reading, rowCount, dictionary, following);
  } finally {
    reader.end();
  }
}
