import type { Connection } from '$lib/server/database/connect';
import type { Trouble } from '$lib/server/http/trouble';

declare global {
  namespace App {
    interface Locals {
      connection: Connection;
      /** Whose data the request may read and write */
      owner: string;
      /** What an unexpected error means for who asked */
      trouble?: Trouble;
    }
  }
}

export {};
