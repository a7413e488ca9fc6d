/** What a program that failed says, in a sentence for the user; its own words go to the log. */

/** Told of work that found no more room. */
export const DISK_FULL = 'The disk is full. Make room and try again; nothing half done was kept.';

const MISSING = 'ffmpeg was not found: install it and start again.';

/** Patterns of what ffmpeg writes to its error output, from the most telling on. */
const KNOWN: [RegExp, string][] = [
  [/No space left on device/i, DISK_FULL],
  [
    /Cannot allocate memory|out of memory|std::bad_alloc/i,
    'There was not enough memory. Close other programs, or choose a smaller size, and try again.',
  ],
  [
    /Permission denied/i,
    'A file may not be read or written. Check the permissions of the footage and of the folder, and try again.',
  ],
  [/No such file or directory/i, 'A file is not in its place any more. Put it back and try again.'],
  [/Input\/output error/i, 'The disk or card could not be read to the end. Copy the footage once more and try again.'],
  [
    /moov atom not found|Invalid data found|partial file|truncated|Error submitting packet|Invalid NAL|corrupt|missing picture/i,
    'The footage is damaged or cut short at a place that was needed. Copy it from the card again, or choose another range.',
  ],
  [
    /non monoton|Invalid argument|Conversion failed|Error (?:opening|initializing|while opening)|Could not open encoder/i,
    'The footage has times or a format that could not be brought into the file. Choose another codec or range and try again.',
  ],
];

/** Why a program ended: by its exit code, the signal that ended it, and what it wrote to its error output. */
export function whyItEnded(code: number | null, signal: NodeJS.Signals | null, errors: string): string {
  if (code === 127 && errors.startsWith('setpriv:')) return MISSING;
  if (signal)
    return 'The work was ended from outside, perhaps for want of memory. Nothing half done was kept; try it again.';
  return (
    KNOWN.find(([pattern]) => pattern.test(errors))?.[1] ??
    'Something went wrong in ffmpeg. Try it again, or with another codec or range.'
  );
}

/** Why a program could not be started. */
export const whyNotStarted = (error: NodeJS.ErrnoException): string =>
  error.code === 'ENOENT' ? MISSING : 'ffmpeg could not be started. Check that it is installed, and try again.';
