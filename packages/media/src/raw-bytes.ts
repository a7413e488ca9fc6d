/** What ffmpeg writes to its standard output, as it comes. */
import { finished, onAbort, start } from './ffmpeg.js';

/**
 * The bytes that an ffmpeg with these arguments writes, in pieces of any length; it is stopped when nobody reads on, or by the signal.
 * Throws MediaError where it fails, and rejects with an AbortError when the signal was given.
 */
export async function* rawBytes(args: string[], signal?: AbortSignal): AsyncGenerator<Buffer> {
  const decoder = start('ffmpeg', ['-v', 'error', '-nostdin', ...args], ['ignore', 'pipe', 'pipe']);
  const ended = finished(decoder).then(
    () => null,
    (error: Error) => error,
  );
  const stop = () => decoder.kill('SIGKILL');
  const deaf = onAbort(signal, stop);
  try {
    signal?.throwIfAborted();
    yield* decoder.stdout! as AsyncIterable<Buffer>;
    const failure = await ended;
    signal?.throwIfAborted();
    if (failure) throw failure;
  } finally {
    deaf();
    stop();
  }
}
