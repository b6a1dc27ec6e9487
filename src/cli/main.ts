/** The command `normetra`. Its exit codes stand at the end of USAGE. */

const USAGE = `normetra read  <page> [--width 1280] [--height 800] [--select CSS] [--json]
normetra find  <page> [--widths 320,768-1280] [--kinds overflow,gap] [--fail-on N] [--why CSS] [--json]
normetra sweep <page> [--widths 240-1920] [--json]
normetra matrix <page> [--engine all] [--widths 360,1280] [--defaults LIST] [--json]
normetra only <engine> [<page> --put RULE] [--against LIST] [--json]
normetra atlas [--engine chromium] [--against firefox] [--json]
normetra capture <address> [--out FILE] [--do STEP] [--cookies FILE] [--user NAME:PASSWORD]
normetra open  <folder, page or address> [--root DIR] [--no-browser] [--json]
normetra doctor [--json]
normetra serve [--port N] [--host H] [--data DIR]
normetra backup <file> [--data DIR]
normetra restore <file> [--data DIR]

  read    the boxes of a page with their sums; <page> is an HTML file, a folder with index.html, a .zip,
          or an http(s) address
          --select CSS         only the boxes that match, each sum spelled out
          --json               as a document (docs/schema/reading-1.json)
          --defaults PROFILE   with other default styles: chromium, firefox, html-standard, nothing,
                               a style sheet, or a profile of normetra atlas (default: as-rendered)
          --root DIR           where root-relative addresses (/assets/...) start
          --engine LIST        chromium, firefox, webkit, several of them (chromium,firefox), all, or webdriver:NAME of an
                               endpoint in NORMETRA_WEBDRIVER (default: chromium); find and sweep take it too
          --scripts hold|run   the page's own scripts (default: hold)
          --scrollbars beside|over
                               beside what they scroll, or over it, as phones have them (default: beside)
          --out FILE           into a file
  find    what is wrong on the page, because of which declaration, and a change that was proved to help
          --widths LIST        viewport widths (default: 1280), with ranges: 768-1280 is every 40 px and both
                               ends, 320-1280/80 every 80 px
          --kinds LIST         only these kinds
          --fail-on N          exit with 1 where something is wrong by N px or more
          --format FORMAT      text, json (docs/schema/findings-1.json), sarif (2.1.0) or junit
          --meant              with what is probably meant
          --write              then writes the first remedy of what is wrong into the files, each after asking;
                               --yes: without asking
          --evidence           with what speaks for and against each
          --grades FILE        what you have said of findings, as the Bench writes it (default: the nearest
                               normetra.json in or above the page's folder; none: no file is read)
          --prove WHAT         whose causes are looked for: what is wrong, also the first of what is doubtful (likely),
                               or all (default: likely)
          --wish TEXT          instead: who keeps something from being as it should, and what makes it so;
                               TEXT is like '.card: as wide as .offer' (docs/guide/wishes.md)
          --at X,Y[,W,H]       instead: all that can be said of a spot of the page, in CSS px of the document
          --why CSS            instead: what each rule says of the boxes that match, and what stopped it
          --defaults, --root, --scripts, --scrollbars, --height, --out as above
  sweep   every width, to 1 px, at which something goes wrong or changes, and because of what
          --widths A-B         the range in px (default: 240-1920); --from A and --to B say the same
          --json               as a document (docs/schema/sweep-1.json)
          --grades, --defaults, --root, --scripts, --scrollbars, --height, --out as above
  matrix  a page in several engines side by side: what differs, by how many px, and because of what
          --engine LIST        (default: all); the others are held against the first
          --widths LIST        viewport widths (default: 1280)
          --defaults LIST      profiles and style sheets that are columns too, in the first engine
          --trial FILE         under the edits of a trial (JSON), each in the engines that it is for
          --json               as a document (docs/schema/matrix-1.json)
          --root, --scripts, --scrollbars, --height, --out as above
  only    conditions that one engine meets and others do not, and what a rule under one does in each of them
          --against LIST       the others (default: all)
          --put RULE           like '.card { width: 300px }', tried on the page; exits with 1 where it changes another engine
          --widths, --json, --root, --scripts, --height, --out as above
  atlas   what an engine gives every HTML element when the author says nothing
          --engine NAME        chromium, firefox or webkit
          --sheet FILE         with a style sheet of your own as the lowest layer
          --against PROFILE    what is different from another profile
          --mode MODE          standards or quirks
          --name, --title      what the profile is called
          --json, --out FILE   as a document (docs/schema/atlas-1.json)
  capture what a live page has become by its scripts, as an archive that every command takes
          --out FILE           (default: capture.zip)
          --do STEP            done before, in order: click CSS, hover CSS, fill CSS = TEXT, press KEY, wait MS,
                               wait CSS, scroll PX
          --cookies FILE       of a visit: a Netscape cookie file, or a storage state in JSON
          --user NAME:PASSWORD where the page's own server asks for them
          --also HOST:PORT     a further host of this machine, or of a private network, that the page needs
          --width N, --height N of the viewport (default: 1280 and 800)
  open    a folder or a page of this machine, or an address, on the Bench, in your browser: what changes is measured at
          once, and what you try there can be written into the files of a folder; a server is started where none runs
          --root DIR           where root-relative addresses (/assets/...) start (default: the folder)
          --do, --cookies, --user, --also, --width, --height of an address, as above
          --no-browser         only says the address
          --json               says it as a document: { normetra, id, page, url, api }
          --data DIR, --port N of a server that is started (default: one data folder for all projects, 4870)
  doctor  which engines, fonts and database are there, and the line that brings what is not
  serve   the application at http://127.0.0.1:4870/, with its data in DIR (default: data)
          --host H             bound to more than this machine, it asks for a token: NORMETRA_TOKEN, or one that it
                               prints
  backup  everything that is kept, in one file; a server may be running meanwhile
  restore the same back into an empty folder, or an empty database
          DATABASE_URL names a PostgreSQL server for all three

Exit codes: 0 done; 1 findings at or above --fail-on; 2 bad usage or input; 3 the engine could not be had; 4 the database
could not be had; 5 anything that was not foreseen.`;

type Command = (argv: string[]) => Promise<number>;

/** Each is loaded when it is asked for. */
const COMMANDS: Record<string, () => Promise<Command>> = {
  read: async () => (await import('./read.ts')).read,
  find: async () => (await import('./find.ts')).find,
  sweep: async () => (await import('./sweep.ts')).sweep,
  matrix: async () => (await import('./matrix.ts')).matrix,
  only: async () => (await import('./only.ts')).only,
  atlas: async () => (await import('./atlas.ts')).atlas,
  capture: async () => (await import('./capture.ts')).capture,
  open: async () => (await import('./open.ts')).open,
  serve: async () => (await import('./serve.ts')).serve,
  doctor: async () => (await import('./doctor.ts')).doctor,
  backup: async () => (await import('./backup.ts')).backup,
  restore: async () => (await import('./backup.ts')).restore,
};

async function main(argv: string[]): Promise<number> {
  const [command, ...rest] = argv;
  if (
    command === undefined ||
    command === '--help' ||
    command === '-h' ||
    command === 'help' ||
    rest.includes('--help')
  ) {
    console.log(USAGE);
    return 0;
  }
  const load = Object.hasOwn(COMMANDS, command) ? COMMANDS[command] : undefined;
  if (load) return (await load())(rest);
  console.error(
    `normetra: there is no command “${command}”. The commands are: ${Object.keys(COMMANDS).join(', ')}.`,
  );
  return 2;
}

/** What went wrong in one line, without what a driver of engines adds about its own calls. */
function oneLine(error: unknown): string {
  const [line = ''] = (error instanceof Error ? error.message : String(error)).split('\n');
  // Our own words stay as they are: they may begin with the name of a file.
  if (error instanceof Error && error.name === 'Refusal') return line;
  return line.replace(/^(?:[a-zA-Z]+\.[a-zA-Z]+: )+/, '').replace(/^(?:[A-Z]\w*(?:Error|Failure): )+/, '');
}

/** What the exit codes mean, by the names of errors. What happens in an engine comes as text. */
function exitCodeOf(error: unknown): number {
  if (!(error instanceof Error)) return 5;
  if (error.name === 'Refusal' || /\bFrameFailure\b/.test(error.message)) return 2;
  if (error.name === 'NoEngine' || /browserType\.launch/.test(error.message)) return 3;
  return error.name === 'NoDatabase' ? 4 : 5;
}

main(process.argv.slice(2)).then(
  (code) => {
    if (code !== 0) process.exit(code);
  },
  (error: unknown) => {
    console.error(`normetra: ${oneLine(error)}`);
    if (process.env['NORMETRA_DEBUG']) console.error(error);
    process.exit(exitCodeOf(error));
  },
);
