/** Hands bytes to the browser as a file to save. */
export function download(
  bytes: Uint8Array<ArrayBuffer>,
  name: string,
  type = 'application/octet-stream',
): void {
  const url = URL.createObjectURL(new Blob([bytes], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  // The browser reads the blob after the click; it may be let go a little later.
  setTimeout(() => URL.revokeObjectURL(url), 60_000);
}
