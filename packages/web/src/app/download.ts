/** Lets the browser save bytes or text as a file. */
export function download(name: string, content: Uint8Array | string, type: string): void {
  const url = URL.createObjectURL(new Blob([content as BlobPart], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  // The download reads the URL after this task; a minute later it certainly has.
  setTimeout(() => URL.revokeObjectURL(url), 60_000);
}

/** A name that every file system takes. */
export const fileNameOf = (title: string) =>
  title
    .trim()
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-|-$/g, '') || 'imprint';
