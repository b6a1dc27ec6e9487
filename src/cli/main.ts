/** The command `normetra`. */
import { serve } from './serve.ts';

const USAGE = `normetra serve [--port N] [--host H] [--data DIR]

  serve   the application at http://127.0.0.1:4870/, with its data in DIR (default: data)`;

async function main(argv: string[]): Promise<number> {
  const [command, ...rest] = argv;
  if (command === 'serve') return serve(rest);
  if (command === undefined || command === '--help' || command === 'help') {
    console.log(USAGE);
    return 0;
  }
  console.error(`normetra: there is no command “${command}”. The commands are: serve.`);
  return 2;
}

main(process.argv.slice(2)).then(
  (code) => {
    if (code !== 0) process.exit(code);
  },
  (error: unknown) => {
    console.error(`normetra: ${error instanceof Error ? error.message : String(error)}`);
    process.exit(2);
  },
);
