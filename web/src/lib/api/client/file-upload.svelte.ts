import { readUploadRoute, takeUploadRoute } from '../contract/files.ts';
import { upload, type Upload } from '../upload.ts';
import { addressOf, ask } from './ask.ts';

/** How often the page asks how far the server is, milliseconds. */
const ASK_EVERY = 300;

export type SentFile =
  | { ok: true; id: string }
  | { ok: false; reason: 'cancelled' | 'unreachable' }
  | { ok: false; reason: 'refused'; body: unknown };

/** Sends a file to the server, which keeps it until it has been previewed and imported. */
export class UploadTask {
  /** Share of the file that has been sent, while it is sent */
  sent = $state<number>();
  /** What the server does with it, while it does something */
  progress = $state.raw<Upload>();
  #request: XMLHttpRequest | undefined;
  #isWatching = false;

  send(file: File): Promise<SentFile> {
    this.sent = 0;
    const request = new XMLHttpRequest();
    this.#request = request;
    return new Promise((resolve) => {
      const finish = (answer: () => SentFile) => () => {
        this.sent = undefined;
        this.#request = undefined;
        resolve(answer());
      };
      request.upload.onprogress = (event) => (this.sent = event.loaded / Math.max(1, file.size));
      request.onload = finish(() => answerOf(request));
      request.onerror = finish(() => ({ ok: false, reason: 'unreachable' }));
      request.onabort = finish(() => ({ ok: false, reason: 'cancelled' }));
      request.open('POST', addressOf(takeUploadRoute, {}));
      request.setRequestHeader('content-type', 'application/octet-stream');
      request.send(file);
    });
  }

  cancel(): void {
    this.#request?.abort();
  }

  /** Follows what the server does with an upload until told to stop. */
  watch(id: string): () => void {
    this.#isWatching = true;
    const follow = async () => {
      while (this.#isWatching) {
        const progress = await ask(readUploadRoute, { parameters: { id } }).catch(() => undefined);
        if (progress && this.#isWatching) this.progress = progress;
        await new Promise((resolve) => setTimeout(resolve, ASK_EVERY));
      }
    };
    void follow();
    return () => {
      this.#isWatching = false;
      this.progress = undefined;
    };
  }
}

function answerOf(request: XMLHttpRequest): SentFile {
  let body: unknown;
  try {
    body = JSON.parse(request.responseText);
  } catch {
    return { ok: false, reason: 'unreachable' };
  }
  const parsed = upload.safeParse(body);
  return parsed.success ? { ok: true, id: parsed.data.id } : { ok: false, reason: 'refused', body };
}
