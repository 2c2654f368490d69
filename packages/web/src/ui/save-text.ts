import { safeFileName } from '@muted-pond/core/pages';

/** Hands a text to the browser as a file to be saved. @param name with its ending; made fit for every system. */
export function saveText(text: string, name: string, type: string): void {
  saveBlob(new Blob([text], { type }), name);
}

/** Hands bytes to the browser as a file to be saved. */
export function saveBlob(blob: Blob, name: string): void {
  const url = URL.createObjectURL(blob);
  const link = document.createElement('a');
  link.href = url;
  link.download = safeFileName(name);
  link.click();
  // The browser reads it before the next turn.
  setTimeout(() => URL.revokeObjectURL(url), 0);
}
