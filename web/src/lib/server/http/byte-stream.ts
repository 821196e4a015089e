/** A body that comes in pieces; a client that goes away ends the generator. */
export function byteStream(pieces: AsyncGenerator<Uint8Array>): ReadableStream<Uint8Array> {
  return new ReadableStream<Uint8Array>({
    async pull(controller) {
      const { done, value } = await pieces.next();
      if (done) controller.close();
      else controller.enqueue(value);
    },
    async cancel() {
      await pieces.return(undefined);
    },
  });
}
