import type { UploadReview } from '../contract/uploads.ts';
import { ApiError } from './api.ts';

/** Sends a file and gives how it is understood. `progress` is the share sent, 0 to 1. */
export function uploadFile(
  file: File,
  progress: (share: number) => void,
  signal: AbortSignal,
): Promise<UploadReview> {
  return new Promise((resolve, reject) => {
    // fetch cannot say how much it has sent; this older interface can.
    const request = new XMLHttpRequest();
    request.open('PUT', `/api/uploads?name=${encodeURIComponent(file.name)}`);
    request.setRequestHeader('Content-Type', 'application/octet-stream');
    request.responseType = 'json';
    request.upload.onprogress = ({ loaded, total }) => progress(total > 0 ? loaded / total : 1);
    request.onload = () => {
      if (request.status === 200) resolve(request.response as UploadReview);
      else {
        const answer = (request.response ?? {}) as { code?: string; sentence?: string };
        reject(new ApiError(request.status, answer.code ?? 'unknown', answer.sentence ?? cut));
      }
    };
    request.onabort = () => reject(new ApiError(0, 'cancelled', 'Cancelled. Nothing was stored.'));
    signal.addEventListener('abort', () => request.abort());
    request.onerror = () => reject(new ApiError(0, 'unreachable', cut));
    request.send(file);
  });
}

const cut =
  'The file did not arrive whole. Nothing was stored; check that the server runs and send it again.';
