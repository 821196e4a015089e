/** Largest body of any route but file imports, which count their own bytes. */
export const MAX_BODY_BYTES = 64 * 1024 * 1024;

/** Body of a request as text; undefined, without reading on, when it is larger than allowed. */
export async function readText(request: Request, limit = MAX_BODY_BYTES): Promise<string | undefined> {
  if (!request.body) return '';
  const decoder = new TextDecoder();
  const reader = request.body.getReader();
  let text = '';
  let bytes = 0;
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return text + decoder.decode();
    bytes += value.byteLength;
    if (bytes > limit) {
      await reader.cancel();
      return undefined;
    }
    text += decoder.decode(value, { stream: true });
  }
}
