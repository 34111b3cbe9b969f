import { readJson } from '@rook-scale/core/stored';
import { ApiError } from '../../browser/api.ts';
import { saveBlob } from '../../components/index.ts';

/**
 * Fetches a file of lines and has the browser save it, saying how many lines have come.
 *
 * @param heard called with the lines so far, the header not counted
 */
export async function downloadLines(
  address: string,
  signal: AbortSignal,
  heard: (lines: number) => void,
): Promise<void> {
  const response = await fetch(address, { signal });
  if (!response.ok) {
    const answer = (await response
      .text()
      .then(readJson)
      .catch(() => ({}))) as {
      code?: string;
      sentence?: string;
    };
    throw new ApiError(response.status, answer.code ?? 'unknown', answer.sentence ?? broken);
  }
  const reader = response.body!.getReader();
  const parts: Uint8Array<ArrayBuffer>[] = [];
  let lines = -1;
  for (;;) {
    const { done, value } = await reader.read().catch((error: unknown) => {
      if (signal.aborted) throw error;
      throw new ApiError(0, 'broken', broken);
    });
    if (done) break;
    for (let i = 0; i < value.length; i++) if (value[i] === lineFeed) lines++;
    parts.push(value);
    heard(Math.max(0, lines));
  }
  const name = /filename="([^"]+)"/.exec(response.headers.get('Content-Disposition') ?? '')?.[1];
  saveBlob(new Blob(parts, { type: 'text/csv' }), name ?? 'list.csv');
}

const lineFeed = 10;
const broken = 'The file broke off before it was complete. Nothing was saved; download it again.';
