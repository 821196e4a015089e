import { z } from 'zod';
import { MOST_TOPICS } from '../../api/live.ts';

const databaseUrl = z.url({ protocol: /^postgres(ql)?$/, error: 'a postgres:// address; ./start sets it' });
const environment = z.object({ DATABASE_URL: databaseUrl });

/** Said by --open: whoever reaches the port may do everything. */
const OPEN = z.enum(['yes']).optional();

const address = {
  HOST: z.string().min(1).default('127.0.0.1'),
  PORT: z.coerce.number().int().min(1).max(65_535).default(4173),
  OPEN,
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

const doorSettings = z.object({
  ORIGIN: z.url().optional(),
  /** Names, separated by commas, under which the application is reached besides loopback's and ORIGIN's */
  ALLOWED_HOSTS: z
    .string()
    .default('')
    .transform((text) => text.split(',').flatMap((name) => (name.trim() === '' ? [] : [name.trim()]))),
});

/** Whether it was said that whoever reaches the port may do everything. */
export function isOpen(): boolean {
  return z.object({ OPEN }).parse(process.env).OPEN !== undefined;
}

let door: z.infer<typeof doorSettings> | undefined;
/** Under which names the application answers, checked once. */
export function readDoorSettings() {
  door ??= doorSettings.parse(process.env);
  return door;
}

const streamSettings = z.object({
  /** Topics that one connection may show */
  STREAM_TOPICS: z.coerce.number().int().positive().default(MOST_TOPICS),
  /** Connections that one client may hold open, and all clients together */
  STREAMS_PER_CLIENT: z.coerce.number().int().positive().default(600),
  STREAMS: z.coerce.number().int().positive().default(2000),
  /** Topics that one server derives live for all its connections */
  STREAM_DERIVED_TOPICS: z.coerce.number().int().positive().default(100),
});

/** How much is derived live, checked. */
export function readStreamSettings() {
  return streamSettings.parse(process.env);
}

const spoolSettings = z.object({
  DATA_DIR: z.string().min(1).optional(),
  /** Bytes of all uploads that lie here at one time */
  SPOOL_QUOTA: z.coerce
    .number()
    .int()
    .positive()
    .default(4 * 2 ** 30),
  /** Seconds after which a sender that sends nothing is given up */
  UPLOAD_IDLE: z.coerce.number().positive().default(20),
});

/** Where uploads wait, checked. */
export function readSpoolSettings() {
  return spoolSettings.parse(process.env);
}

/** Settings of a start from the environment, checked. */
export function readStartSettings() {
  return startSettings.parse(process.env);
}

/** Until accounts come there is one local user; rows of users carry this owner. */
export const LOCAL_OWNER = 'local';
