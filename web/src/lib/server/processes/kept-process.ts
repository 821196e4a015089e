import { type ChildProcess, spawn, type StdioOptions } from 'node:child_process';
import { existsSync } from 'node:fs';

/** How long a process is waited for before it is started again: longer each time it dies soon. */
const FIRST_PAUSE = 250;
const LONGEST_PAUSE = 30_000;
/** One that lived this long is well: its next death is its first. */
const SETTLED_AFTER = 30_000;
/** A process that was asked to end is killed after this. */
const GRACE = 5000;
/** util-linux, part of every Debian: ends a process when the one that started it has ended, however that came about. */
const SETPRIV = '/usr/bin/setpriv';

export interface ProcessCommand {
  name: string;
  command: string;
  args: string[];
  env?: NodeJS.ProcessEnv;
  cwd?: string;
  stdio?: StdioOptions;
  /** Whether the command itself sees to it that it ends with its starter */
  endsByItself?: boolean;
}

/** A process that is started again whenever it ends, with growing pauses, until it is stopped. */
export class KeptProcess {
  readonly #command: ProcessCommand;
  readonly #tell: (line: string) => void;
  readonly #started: (child: ChildProcess) => void;
  #child: ChildProcess | undefined;
  #pause = FIRST_PAUSE;
  #timer: NodeJS.Timeout | undefined;
  #isWanted = false;

  /** @param started called with each new process */
  constructor(
    command: ProcessCommand,
    tell: (line: string) => void,
    started: (child: ChildProcess) => void = () => undefined,
  ) {
    this.#command = command;
    this.#tell = tell;
    this.#started = started;
  }

  get pid(): number | undefined {
    return this.#child?.pid;
  }

  start(): void {
    this.#isWanted = true;
    const { command, args, env, cwd, stdio = 'inherit', endsByItself = false } = this.#command;
    const isTied = !endsByItself && existsSync(SETPRIV);
    const [file, all] = isTied ? [SETPRIV, ['--pdeathsig', 'KILL', '--', command, ...args]] : [command, args];
    const began = Date.now();
    const child = spawn(file, all, { env: { ...process.env, ...env }, cwd, stdio });
    this.#child = child;
    child.once('error', (error) => this.#tell(`${this.#command.name} cannot be started: ${error.message}`));
    child.once('exit', (code, signal) => {
      if (this.#child === child) this.#child = undefined;
      if (this.#isWanted) this.#again(Date.now() - began, signal ?? `status ${code}`);
    });
    this.#started(child);
  }

  #again(lived: number, how: string): void {
    if (lived > SETTLED_AFTER) this.#pause = FIRST_PAUSE;
    const pause = this.#pause;
    this.#pause = Math.min(2 * pause, LONGEST_PAUSE);
    const age = `${(lived / 1000).toFixed(1)} s`;
    this.#tell(`${this.#command.name} ended (${how}) after ${age}; started again in ${pause / 1000} s`);
    this.#timer = setTimeout(() => this.start(), pause);
  }

  /** Asks the process to end and waits until it has. */
  stop(signal: NodeJS.Signals = 'SIGTERM', grace = GRACE): Promise<void> {
    this.#isWanted = false;
    clearTimeout(this.#timer);
    const child = this.#child;
    if (!child || child.exitCode !== null || child.signalCode !== null) return Promise.resolve();
    return new Promise((resolve) => {
      const insist = setTimeout(() => child.kill('SIGKILL'), grace);
      child.once('exit', () => {
        clearTimeout(insist);
        resolve();
      });
      child.kill(signal);
    });
  }
}
