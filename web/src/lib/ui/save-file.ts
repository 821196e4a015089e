/** Lets the browser save a file. */
export function saveFile(name: string, content: Blob | string): void {
  const link = document.createElement('a');
  link.href = typeof content === 'string' ? content : URL.createObjectURL(content);
  link.download = name;
  link.click();
  if (typeof content !== 'string') URL.revokeObjectURL(link.href);
}

/** A name that every file system takes. */
export function fileName(...parts: string[]): string {
  return parts
    .join(' ')
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-|-$/g, '')
    .toLowerCase();
}
