import { writeFileSync } from 'node:fs';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { isMainThread } from 'node:worker_threads';

/*
 * Loaded into a process by NODE_OPTIONS=--import: measures its event loop's delay, and on SIGUSR2 writes what it was since the
 * last time to LOOP_DELAY_FOLDER.
 */
const folder = process.env.LOOP_DELAY_FOLDER;
if (folder && isMainThread) {
  const delay = monitorEventLoopDelay({ resolution: 5 });
  delay.enable();
  process.on('SIGUSR2', () => {
    const milliseconds = (n) => n / 1e6;
    const told = {
      p50: milliseconds(delay.percentile(50)),
      p99: milliseconds(delay.percentile(99)),
      max: milliseconds(delay.max),
    };
    delay.reset();
    writeFileSync(`${folder}/${process.pid}.json`, JSON.stringify(told));
  });
}
