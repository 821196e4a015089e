import { z } from 'zod';

const databaseUrl = z.url({ protocol: /^postgres(ql)?$/, error: 'a postgres:// address; ./start sets it' });
const environment = z.object({ DATABASE_URL: databaseUrl });

const address = {
  HOST: z.string().min(1).default('127.0.0.1'),
  PORT: z.coerce.number().int().min(1).max(65_535).default(4173),
};

/** What `./start` takes: where to listen, whose database, where its own files are, how many workers. */
const startSettings = z.object({
  ...address,
  /** A database given from outside: then none is started */
  DATABASE_URL: databaseUrl.optional(),
  DATA_DIR: z.string().min(1).optional(),
  WORKERS: z.coerce.number().int().min(0).max(256).optional(),
});

/** Settings from the environment, checked. */
export function readEnvironment() {
  return environment.parse(process.env);
}

/** Where the server listens, checked. */
export function readServeSettings() {
  return z.object(address).parse(process.env);
}

/** Settings of a start from the environment, checked. */
export function readStartSettings() {
  return startSettings.parse(process.env);
}

/** Until accounts come there is one local user; rows of users carry this owner. */
export const LOCAL_OWNER = 'local';
