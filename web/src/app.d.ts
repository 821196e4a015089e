import type { IncomingMessage } from 'node:http';
import type { Connection } from '$lib/server/database/connect';
import type { Trouble } from '$lib/server/http/trouble';

declare global {
  namespace App {
    interface Platform {
      req: IncomingMessage;
    }
    interface Locals {
      connection: Connection;
      /** Whose data the request may read and write */
      owner: string;
      /** Tells that the client has gone before it was answered; the request's own signal no longer does once its body is read */
      left: AbortSignal;
      /** What an unexpected error means for who asked */
      trouble?: Trouble;
    }
  }
}

export {};
