import { z } from 'zod';

const environment = z.object({
  DATABASE_URL: z.url({ protocol: /^postgres(ql)?$/, error: 'a postgres:// address; ./start sets it' }),
});

/** Settings from the environment, checked. */
export function readEnvironment() {
  return environment.parse(process.env);
}

/** Until accounts come there is one local user; rows of users carry this owner. */
export const LOCAL_OWNER = 'local';
