import type { Combination, UploadReview } from '../../contract/uploads.ts';
import { Problem } from '../ground/problem.ts';
import { Reader } from './reader.ts';
import type { SheetNamed } from './reader-protocol.ts';
import { keepRemarks, keptUpload, receiveUpload } from './uploads.ts';

/** Largest file that can be put together with another, in bytes. */
const limit = 200 * 1024 * 1024;

/** Makes one upload of two, with remarks that say what matched; both stay as they are. */
export async function combineUploads(wanted: Combination): Promise<UploadReview> {
  const first = await named(wanted.first);
  const second = await named(wanted.second);
  const reader = new Reader();
  try {
    const { fileName, remark } = await reader.combine(first, second, wanted);
    const review = await receiveUpload(reader.combined(first.size + second.size), fileName);
    return await keepRemarks(review.id, [remark, ...review.remarks]);
  } finally {
    reader.end();
  }
}

async function named(id: string): Promise<SheetNamed> {
  const { fileName, reading, size } = await keptUpload(id);
  if (size > limit)
    throw new Problem(
      413,
      'too-large-to-combine',
      `${fileName} is too large to be put together with another file here (200 MB at most). Both files are as they were.`,
    );
  return { id, size, fileName, reading };
}
