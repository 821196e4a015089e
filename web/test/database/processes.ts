import { type ChildProcess, spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';

const running = new Set<ChildProcess>();

/** Starts one of the application's processes on a database. @param script its name among the bundled ones */
export function startProcess(script: string, url: string, ...args: string[]): ChildProcess {
  // Bundled before the tests begin: what is translated at every start would take most of the time.
  const path = fileURLToPath(new URL(`../../build-processes/${script}.js`, import.meta.url));
  const child = spawn(process.execPath, [path, ...args], {
    env: { ...process.env, DATABASE_URL: url },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  running.add(child);
  child.once('exit', () => running.delete(child));
  return child;
}

/** Kills at once, as a crash would, and waits until the process is gone. */
export function kill(child: ChildProcess, signal: NodeJS.Signals = 'SIGKILL'): Promise<void> {
  return new Promise((resolve) => {
    if (child.exitCode !== null || child.signalCode !== null) return resolve();
    child.once('exit', () => resolve());
    child.kill(signal);
  });
}

export async function killAll(): Promise<void> {
  await Promise.all([...running].map((child) => kill(child)));
}

/** Waits until a question is answered with yes. */
export async function until(question: () => Promise<boolean>, seconds = 1200): Promise<void> {
  const end = Date.now() + 1000 * seconds;
  while (!(await question())) {
    if (Date.now() > end) throw new Error(`not within ${seconds} s`);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}
