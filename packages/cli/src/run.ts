/** Running a command line to its exit code: 0 only when the output is complete. */
import { ToldError } from '@glimbo/core/boundary/told-error';
import { COMMANDS, type Call } from './commands.js';
import { CommandError, readOptions, USAGE } from './options.js';

/** Whether an error's own sentence is for people. */
const isTold = (error: unknown) => error instanceof ToldError || error instanceof RangeError;

/** Runs a command line without the program's name. Never rejects. */
export async function runCommandLine(
  args: string[],
  { signal, say, tell }: Pick<Call, 'signal' | 'say' | 'tell'>,
): Promise<number> {
  try {
    const { options, command: name, argument } = readOptions(args);
    if (options.help) {
      tell(`${USAGE}\n`);
      return 0;
    }
    const command = name && Object.hasOwn(COMMANDS, name) ? COMMANDS[name] : undefined;
    if (!command) throw new CommandError(name ? `There is no command "${name}".` : 'Name a command.');
    await command({ argument, options, signal, say, tell });
    return 0;
  } catch (error) {
    if (signal.aborted) {
      say('\nglimbo: stopped. Nothing half done was kept.\n');
      return 130;
    }
    if (error instanceof CommandError) {
      say(`glimbo: ${error.message}\n${error.usage ? `${USAGE}\n` : ''}`);
      return error.usage ? 2 : 1;
    }
    say(`glimbo: ${isTold(error) ? (error as Error).message : (error as Error).stack}\n`);
    return 1;
  }
}
