import type { FootageView } from '@muted-pond/core/api';
import { ApiProblem, parseJson, toApiProblem } from './client.js';

/** Sends one file. XMLHttpRequest, since fetch does not tell how much has been sent. */
export function uploadFootage(
  file: File,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<FootageView> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open('POST', `/api/footage?name=${encodeURIComponent(file.name)}`);
    request.setRequestHeader('content-type', 'application/octet-stream');
    request.upload.onprogress = (event) => onProgress(event.total > 0 ? event.loaded / event.total : 0);
    request.onload = () => {
      const body = parseJson(request.responseText);
      if (request.status >= 200 && request.status < 300) resolve(body as FootageView);
      else reject(toApiProblem(request.status, body));
    };
    request.onerror = () =>
      reject(
        new ApiProblem(
          0,
          'broken_off',
          `Sending “${file.name}” broke off. Check that the server runs and try again.`,
        ),
      );
    request.onabort = () => reject(new DOMException('Cancelled', 'AbortError'));
    signal.addEventListener('abort', () => request.abort(), { once: true });
    request.send(file);
  });
}
