import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import type { Overrun } from '@muted-pond/core/recipe';
import { type DetailedError, Upload } from 'tus-js-client';

/** Parts of a file: enough of them that a break is felt, and none so small that sending takes long. */
const PARTS = 10;
const SMALLEST_PART = 16 * 1024;
/** Pauses before a broken connection is resumed, ms. */
const RETRY_DELAYS = [100, 300, 900, 2000, 4000];

/** The host looked at the file, or at what was said of it, and does not want it. */
export class HostRefusal extends Error {
  override readonly name = 'HostRefusal';

  constructor(
    message: string,
    readonly over: readonly Overrun[],
  ) {
    super(message);
  }
}

/** The connection broke more often than it is resumed. */
export class LineBroke extends Error {
  override readonly name = 'LineBroke';

  constructor() {
    super('Sending broke off. What has arrived is kept: go on, and it begins where it was.');
  }
}

export interface SendOptions {
  readonly metadata: Readonly<Record<string, string>>;
  /** Where an earlier try left what had arrived; null for none. */
  readonly from: string | null;
  readonly signal: AbortSignal;
  /** Told as soon as it is known where the file arrives. */
  readonly onAddress: (address: string) => void;
  /** 0–1 */
  readonly onProgress: (done: number) => void;
}

/**
 * Sends a file part by part (tus, resumable upload protocol 1.0).
 * @returns the id of its page.
 * @throws HostRefusal, LineBroke; the signal's reason when it was stopped: what has arrived is kept.
 */
export async function sendFile(host: string, path: string, options: SendOptions): Promise<string> {
  const { size } = await stat(path);
  const { metadata, from, signal } = options;
  return new Promise((resolve, reject) => {
    const upload = new Upload(createReadStream(path), {
      endpoint: `${host}/uploads`,
      uploadUrl: from,
      uploadSize: size,
      chunkSize: Math.max(SMALLEST_PART, Math.ceil(size / PARTS)),
      retryDelays: RETRY_DELAYS,
      metadata,
      storeFingerprintForResuming: false,
      onUploadUrlAvailable: () => upload.url && options.onAddress(upload.url),
      onProgress: (sent) => options.onProgress(sent / size),
      onSuccess: ({ lastResponse }) => {
        signal.removeEventListener('abort', stop);
        resolve((JSON.parse(lastResponse.getBody()) as { id: string }).id);
      },
      onError: (error) => {
        signal.removeEventListener('abort', stop);
        reject(whatItMeans(error));
      },
    });
    const stop = () => {
      // Not told to the host: what has arrived may be gone on with.
      void upload.abort(false).catch(() => {});
      reject(signal.reason);
    };
    if (signal.aborted) {
      stop();
      return;
    }
    signal.addEventListener('abort', stop, { once: true });
    upload.start();
  });
}

function whatItMeans(error: Error | DetailedError): Error {
  const response = 'originalResponse' in error ? error.originalResponse : null;
  if (!response || response.getStatus() === 0) return new LineBroke();
  try {
    const { title, over = [] } = JSON.parse(response.getBody()) as { title: string; over?: Overrun[] };
    return new HostRefusal(title, over);
  } catch {
    return new HostRefusal(
      `The place answered with ${response.getStatus()} and did not say why. Try again.`,
      [],
    );
  }
}
