/** Largest body of any route but file imports, which count their own bytes. */
export const MAX_BODY_BYTES = 64 * 1024 * 1024;

/** Body of a request; undefined, without reading on, when it is larger than allowed. */
export async function readBytes(request: Request, limit = MAX_BODY_BYTES): Promise<Uint8Array | undefined> {
  if (!request.body) return new Uint8Array(0);
  const reader = request.body.getReader();
  const pieces: Uint8Array[] = [];
  let size = 0;
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return Buffer.concat(pieces);
    size += value.byteLength;
    if (size > limit) {
      await reader.cancel();
      return undefined;
    }
    pieces.push(value);
  }
}

/** Body of a request as text; undefined when it is larger than allowed. */
export async function readText(request: Request, limit = MAX_BODY_BYTES): Promise<string | undefined> {
  const bytes = await readBytes(request, limit);
  return bytes && new TextDecoder().decode(bytes);
}
