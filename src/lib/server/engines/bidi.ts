/** A page in a headless Firefox, driven over its own WebDriver BiDi port (WebDriver BiDi §6, §7). */
import { spawn } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import WebSocket from 'ws';
import { NoEngine } from './chromium.ts';

const PLACES = ['/usr/bin/firefox-esr', '/usr/bin/firefox'];
const START_MS = 60_000;

export interface BidiPage {
  version: string;
  goto: (address: string) => Promise<void>;
  /** What an expression comes to, awaited; it must be text. */
  evaluate: (expression: string) => Promise<string>;
  close: () => Promise<void>;
}

/** Throws NoEngine where there is none. */
export function firefoxPath(): string {
  const named = process.env['NORMETRA_FIREFOX'];
  if (named && !existsSync(named))
    throw new NoEngine(`NORMETRA_FIREFOX names ${named}, and there is no such file. Correct it or unset it.`);
  const found = named ?? PLACES.find((path) => existsSync(path));
  if (!found)
    throw new NoEngine(
      'No Firefox was found. Install it (apt-get install firefox-esr) or name one in NORMETRA_FIREFOX.',
    );
  return found;
}

interface Answer {
  id?: number;
  type?: string;
  result?: unknown;
  error?: string;
  message?: string;
}

export async function openFirefox(): Promise<BidiPage> {
  const profile = mkdtempSync(join(tmpdir(), 'normetra-firefox-'));
  const args = ['--headless', '--no-remote', '--profile', profile, '--remote-debugging-port', '0'];
  const child = spawn(firefoxPath(), args, { stdio: ['ignore', 'ignore', 'pipe'] });
  const end = (): void => {
    child.kill('SIGKILL');
    rmSync(profile, { recursive: true, force: true, maxRetries: 3 });
  };
  try {
    const port = await new Promise<string>((resolve, reject) => {
      let text = '';
      const timer = setTimeout(
        () => reject(new NoEngine(`Firefox did not open its BiDi port in ${START_MS / 1000} s.`)),
        START_MS,
      );
      child.on('error', (error) => reject(new NoEngine(`Firefox could not be started: ${error.message}.`)));
      child.on('exit', (code) => reject(new NoEngine(`Firefox ended by itself (${code}).`)));
      child.stderr.on('data', (data: Buffer) => {
        text += data.toString();
        const found = /WebDriver BiDi listening on (ws:\/\/\S+)/.exec(text);
        if (!found) return;
        clearTimeout(timer);
        resolve(found[1]!);
      });
    });
    const socket = new WebSocket(`${port}/session`);
    await new Promise<void>((resolve, reject) => {
      socket.once('open', () => resolve());
      socket.once('error', reject);
    });
    const waiting = new Map<number, { done: (result: unknown) => void; fail: (error: Error) => void }>();
    let next = 1;
    socket.on('message', (data: Buffer) => {
      const answer = JSON.parse(data.toString()) as Answer;
      const entry = answer.id === undefined ? undefined : waiting.get(answer.id);
      if (!entry) return;
      waiting.delete(answer.id!);
      if (answer.type === 'error') entry.fail(new Error(`${answer.error}: ${answer.message}`));
      else entry.done(answer.result);
    });
    const command = <T>(method: string, params: object): Promise<T> =>
      new Promise((resolve, reject) => {
        const id = next++;
        waiting.set(id, { done: (result) => resolve(result as T), fail: reject });
        socket.send(JSON.stringify({ id, method, params }));
      });
    const { capabilities } = await command<{ capabilities: { browserVersion: string } }>('session.new', {
      capabilities: {},
    });
    const { contexts } = await command<{ contexts: { context: string }[] }>('browsingContext.getTree', {});
    const { context } = contexts[0]!;
    return {
      version: capabilities.browserVersion,
      goto: async (url) => {
        await command('browsingContext.navigate', { context, url, wait: 'complete' });
      },
      evaluate: async (expression) => {
        const result = await command<{
          type: string;
          result?: { type: string; value?: string };
          exceptionDetails?: { text: string };
        }>('script.evaluate', { expression, target: { context }, awaitPromise: true });
        if (result.type === 'exception')
          throw new Error(result.exceptionDetails?.text ?? 'The page threw an error.');
        return result.result?.value ?? '';
      },
      close: async () => {
        await command('session.end', {}).catch(() => undefined);
        socket.close();
        end();
      },
    };
  } catch (error) {
    end();
    throw error;
  }
}
