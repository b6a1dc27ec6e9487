import assert from 'node:assert/strict';
import { test } from 'node:test';
import { showProgress } from '../../../src/cli/progress.ts';

const stream = (isTTY: boolean) => {
  const written: string[] = [];
  const to = { isTTY, write: (text: string) => written.push(text) > 0 };
  return { written, to };
};

test('progress is told on a terminal, each line over the last, and taken away', () => {
  const { written, to } = stream(true);
  const { tell, end } = showProgress(to);
  tell!('1 of 12 causes');
  tell!('2 of 12 causes');
  end();
  assert.deepEqual(written, ['\r1 of 12 causes\x1b[K', '\r2 of 12 causes\x1b[K', '\r\x1b[K']);
});

test('what goes into a file has no progress in it', () => {
  const { written, to } = stream(false);
  const { tell, end } = showProgress(to);
  end();
  assert.equal(tell, null);
  assert.deepEqual(written, []);
});
