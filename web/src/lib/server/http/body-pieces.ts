/**
 * Pieces of a request's body as they come. To return ends it at once, also while a piece is waited for: the iterator of the stream
 * itself would wait for a sender that sends nothing.
 */
export function bodyPieces(request: Request): AsyncIterable<Uint8Array> {
  const reader = request.body?.getReader();
  return {
    [Symbol.asyncIterator]: () => ({
      async next() {
        const read = await reader?.read();
        return read?.done === false ? { done: false, value: read.value } : { done: true, value: undefined };
      },
      async return() {
        await reader?.cancel();
        return { done: true, value: undefined };
      },
    }),
  };
}
