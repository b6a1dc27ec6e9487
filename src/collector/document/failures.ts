/** What the page's scripts ask for and do not get, and what they end with: told with the page, since it is not what it would be. */
import type { ScriptFailure } from '../../protocol/protocol.ts';

const MOST = 40;
const LONGEST = 300;

const found: ScriptFailure[] = [];

function note(failure: ScriptFailure): void {
  const isKnown = found.some(
    (scriptFailure) => scriptFailure.address === failure.address && scriptFailure.why === failure.why,
  );
  if (!isKnown && found.length < MOST) found.push(failure);
}

const cut = (text: string): string => text.slice(0, LONGEST);

/** Begins to listen; errors of pictures and sheets are told elsewhere, by what is missing. */
export function noteFailures(): void {
  window.addEventListener(
    'error',
    (event) => {
      const { target } = event;
      if (target instanceof HTMLScriptElement)
        note({ address: cut(target.src), line: 0, why: 'the script could not be loaded' });
      else if (event instanceof ErrorEvent)
        note({ address: cut(event.filename), line: event.lineno, why: cut(event.message) });
    },
    true,
  );
  window.addEventListener('unhandledrejection', ({ reason }: PromiseRejectionEvent) =>
    note({ address: '', line: 0, why: cut(reason instanceof Error ? reason.message : String(reason)) }),
  );
  document.addEventListener(
    'securitypolicyviolation',
    ({ violatedDirective, blockedURI, sourceFile, lineNumber }) => {
      if (violatedDirective === 'connect-src')
        note({
          address: cut(sourceFile ?? ''),
          line: lineNumber,
          why: cut(`a request to ${blockedURI} is not let out`),
        });
    },
  );
}

export const failures = (): ScriptFailure[] => found;
