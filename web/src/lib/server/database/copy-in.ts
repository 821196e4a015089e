import { once } from 'node:events';
import type { ClientBase, Connection, Submittable } from 'pg';

/** Rows on their way into a table by COPY. */
export interface CopyIn {
  /** Waits until there is room for more. @throws what the database says of the rows, or that it is lost */
  write: (piece: Uint8Array | string) => Promise<void>;
  /** Waits until all rows have arrived. @throws what the database says of the rows, or that it is lost */
  end: () => Promise<void>;
  /** Gives up, and waits until the connection can be asked again; nothing of the COPY is kept. */
  abort: (error: Error) => Promise<void>;
}

/**
 * Begins a COPY on a connection that is held.
 * @param statement `copy … from stdin`; from the code, never from outside
 */
export async function copyIn(client: ClientBase, statement: string): Promise<CopyIn> {
  const course = client.query(new CopyCourse(statement));
  await course.begun;
  return course;
}

/** What the driver tells a statement of its course, and how it is told to go on. */
interface Wire extends Connection {
  sendCopyFromChunk: (piece: Uint8Array) => void;
  endCopyFrom: () => void;
  sendCopyFail: (reason: string) => void;
}

/**
 * One COPY as a statement of the driver (PostgreSQL 15 documentation, 55.2.6 "COPY Operations"). How it ends is one promise, which
 * every wait is raced with: a refused row and a lost connection are heard of whatever is under way.
 */
class CopyCourse implements CopyIn, Submittable {
  readonly #statement: string;
  readonly #ended: Promise<void>;
  readonly begun: Promise<void>;
  #wire: Wire | undefined;
  #failure: Error | undefined;
  #begin: () => void = () => undefined;
  #succeed: () => void = () => undefined;
  #fail: (error: Error) => void = () => undefined;

  constructor(statement: string) {
    this.#statement = statement;
    this.#ended = new Promise((resolve, reject) => ([this.#succeed, this.#fail] = [resolve, reject]));
    this.#ended.catch(() => undefined);
    this.begun = Promise.race([new Promise<void>((resolve) => (this.#begin = resolve)), this.#ended]);
  }

  async write(piece: Uint8Array | string): Promise<void> {
    const wire = this.#open();
    wire.sendCopyFromChunk(typeof piece === 'string' ? Buffer.from(piece) : piece);
    if (wire.stream.writableNeedDrain) await Promise.race([once(wire.stream, 'drain'), this.#ended]);
    // What failed while there was room enough.
    if (this.#failure) throw this.#failure;
  }

  async end(): Promise<void> {
    this.#open().endCopyFrom();
    await this.#ended;
  }

  async abort(error: Error): Promise<void> {
    if (!this.#failure) this.#wire?.sendCopyFail(error.message);
    await this.#ended.catch(() => undefined);
  }

  #open(): Wire {
    if (this.#failure) throw this.#failure;
    if (!this.#wire) throw new Error('the COPY has not begun');
    return this.#wire;
  }

  submit = (connection: Connection): void => {
    this.#wire = connection as Wire;
    connection.query(this.#statement);
  };

  handleCopyInResponse(): void {
    this.#begin();
  }

  /** The driver puts its own in place of it, to hear of the end. */
  callback: () => void = () => undefined;

  handleError(error: Error): void {
    this.callback();
    this.#failure = error;
    this.#fail(error);
  }

  handleCommandComplete(): void {
    // Its end is told once the connection is ready for the next statement.
  }

  handleReadyForQuery(): void {
    this.callback();
    this.#succeed();
  }
}
