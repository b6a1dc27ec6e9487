/** The words of a command line, read by Node's own reader. */
import { parseArgs, type ParseArgsConfig } from 'node:util';
import { Refusal } from '../lib/server/ingest/refusal.ts';

/** Throws a Refusal that says which option is none. */
export function parsedArguments<C extends ParseArgsConfig>(config: C): ReturnType<typeof parseArgs<C>> {
  try {
    return parseArgs(config);
  } catch (error) {
    throw new Refusal(
      `${error instanceof Error ? error.message.split('\n')[0] : String(error)}. Run normetra --help for the options.`,
    );
  }
}
