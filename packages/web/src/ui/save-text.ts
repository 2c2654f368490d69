/** Hands a text to the browser as a file to be saved. @param name with its ending; made fit for every system. */
export function saveText(text: string, name: string, type: string): void {
  const url = URL.createObjectURL(new Blob([text], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name.replace(/[\\/:*?"<>|]+/g, ' ').trim();
  link.click();
  // The browser reads it before the next turn.
  setTimeout(() => URL.revokeObjectURL(url), 0);
}
