/** The command line: the same engine without a browser. Progress on standard error, results on standard output. */
import { clearAbandoned } from '@glimbo/media/temporary';
import { runCommandLine } from './run.js';

const stop = new AbortController();
for (const name of ['SIGINT', 'SIGTERM'] as const)
  process.once(name, () => {
    stop.abort();
    // What cannot be broken off cleanly is given up; its temporary folder goes with the process.
    setTimeout(() => process.exit(130), 3000).unref();
  });
clearAbandoned();
process.exit(
  await runCommandLine(process.argv.slice(2), {
    signal: stop.signal,
    say: (text) => void process.stderr.write(text),
    tell: (text) => void process.stdout.write(text),
  }),
);
