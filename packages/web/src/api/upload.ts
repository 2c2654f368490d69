import type { FootageView } from '@muted-pond/core/api';
import { type DetailedError, type HttpResponse, Upload } from 'tus-js-client';
import { ApiProblem, callApi, parseJson, toApiProblem } from './client.js';

/** Pauses before a broken upload is resumed, ms; after the last it has failed. */
const RETRY_DELAYS = [500, 1500, 4000, 10_000, 20_000, 40_000];

/**
 * Sends one file, part by part: after a break it goes on where it was (tus, resumable upload protocol 1.0),
 * also when the same file is chosen again later.
 * @throws ApiProblem when it is refused, or broke off for good; an AbortError when it was stopped.
 */
export function uploadFootage(
  file: File,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<FootageView> {
  return new Promise((resolve, reject) => {
    const upload = new Upload(file, {
      endpoint: '/api/uploads',
      retryDelays: RETRY_DELAYS,
      metadata: { name: file.name },
      removeFingerprintOnSuccess: true,
      onProgress: (sent, total) => onProgress(total > 0 ? sent / total : 0),
      onSuccess: ({ lastResponse }) => {
        signal.removeEventListener('abort', stop);
        takenAs(lastResponse).then((view) => (view ? resolve(view) : reject(brokenOff(file.name))), reject);
      },
      onError: (error) => {
        signal.removeEventListener('abort', stop);
        reject(problemOf(file.name, error));
      },
    });
    const stop = () => {
      // The partial upload is deleted as well.
      void upload.abort(true).catch(() => {});
      reject(new DOMException('Cancelled', 'AbortError'));
    };
    if (signal.aborted) {
      stop();
      return;
    }
    signal.addEventListener('abort', stop, { once: true });
    upload.findPreviousUploads().then(
      ([previous]) => {
        if (signal.aborted) return;
        if (previous) upload.resumeFromPreviousUpload(previous);
        upload.start();
      },
      () => upload.start(),
    );
  });
}

/**
 * The footage that a complete upload became: the answer to its last part says it, or where that was lost on the
 * way, the answer to how far it came. Null where neither does.
 */
export async function takenAs(
  last: Pick<HttpResponse, 'getBody' | 'getHeader'>,
): Promise<FootageView | null> {
  const told = parseJson(last.getBody());
  if (told) return told as FootageView;
  const footage = last.getHeader('Upload-Footage');
  return footage ? callApi<FootageView>('GET', `footage/${footage}`) : null;
}

function problemOf(name: string, error: Error | DetailedError): ApiProblem {
  const response = 'originalResponse' in error ? error.originalResponse : null;
  if (!response || response.getStatus() === 0) return brokenOff(name);
  return toApiProblem(response.getStatus(), parseJson(response.getBody()));
}

function brokenOff(name: string): ApiProblem {
  return new ApiProblem(
    0,
    'broken_off',
    `Sending “${name}” broke off. Check that the server runs and bring it in again: it goes on where it was.`,
  );
}
