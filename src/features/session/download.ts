/** Hands a file to the browser to save. */
export function download(content: Blob | Uint8Array<ArrayBuffer>, name: string): void {
  const url = URL.createObjectURL(content instanceof Blob ? content : new Blob([content]));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  // The browser reads the blob after the click; it may be let go a little later.
  setTimeout(() => URL.revokeObjectURL(url), 60_000);
}
