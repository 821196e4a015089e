import type { Connection } from '$lib/server/database/connect';

declare global {
  namespace App {
    interface Locals {
      connection: Connection;
      /** Whose data the request may read and write */
      owner: string;
    }
  }
}

export {};
