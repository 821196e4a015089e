import { existsSync, readFileSync, rmSync } from 'node:fs';

interface Delay {
  p50: number;
  p99: number;
  max: number;
}

export const pause = (milliseconds: number) => new Promise((resolve) => setTimeout(resolve, milliseconds));

/** What the server's event loop was late by since the last time; undefined where it does not tell. */
export async function loopDelay(): Promise<Delay | undefined> {
  const { SERVER_PID: pid, LOOP_DELAY_FOLDER: folder } = process.env;
  if (!pid || !folder) return undefined;
  const path = `${folder}/${pid}.json`;
  rmSync(path, { force: true });
  process.kill(Number(pid), 'SIGUSR2');
  for (let i = 0; i < 50 && !existsSync(path); i++) await pause(20);
  await pause(50);
  return JSON.parse(readFileSync(path, 'utf8')) as Delay;
}
