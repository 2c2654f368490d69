import type { FootageView } from '@muted-pond/core/api';
import { createStore } from 'zustand';
import { uploadFootage } from '../api/upload.js';
import { sentenceOf } from '../ui/sentence.js';

/** One file on its way in. It leaves the list when it is taken in or dismissed. */
export interface Upload {
  readonly id: number;
  readonly name: string;
  readonly share: number;
  /** A sentence, when it was refused. */
  readonly problem: string | null;
}

interface UploadsState {
  readonly uploads: readonly Upload[];
}

export const uploadsStore = createStore<UploadsState>(() => ({ uploads: [] }));

/** Files sent at once; the others wait. */
const MOST_AT_ONCE = 3;
const switches = new Map<number, AbortController>();
const waiting: (() => void)[] = [];
let sending = 0;
let nextId = 1;

/**
 * Sends a file; null when it was cancelled or refused (the list then says why).
 * @param send how it is sent.
 */
export async function bringIn(
  file: File,
  send: typeof uploadFootage = uploadFootage,
): Promise<FootageView | null> {
  const id = nextId++;
  const abort = new AbortController();
  switches.set(id, abort);
  add({ id, name: file.name, share: 0, problem: null });
  await turn();
  try {
    // It may have been dismissed while it waited.
    if (abort.signal.aborted) return null;
    const footage = await send(file, (share) => change(id, { share }), abort.signal);
    dismissUpload(id);
    return footage;
  } catch (error) {
    if (abort.signal.aborted) dismissUpload(id);
    else change(id, { problem: sentenceOf(error) });
    return null;
  } finally {
    sending--;
    waiting.shift()?.();
  }
}

async function turn(): Promise<void> {
  if (sending >= MOST_AT_ONCE) await new Promise<void>((resolve) => waiting.push(resolve));
  sending++;
}

/** Cancels it if it is still being sent, and takes it off the list. */
export function dismissUpload(id: number): void {
  switches.get(id)?.abort();
  switches.delete(id);
  uploadsStore.setState(({ uploads }) => ({ uploads: uploads.filter((upload) => upload.id !== id) }));
}

function add(upload: Upload): void {
  uploadsStore.setState(({ uploads }) => ({ uploads: [...uploads, upload] }));
}

function change(id: number, part: Partial<Upload>): void {
  uploadsStore.setState(({ uploads }) => ({
    uploads: uploads.map((upload) => (upload.id === id ? { ...upload, ...part } : upload)),
  }));
}
