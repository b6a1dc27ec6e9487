import assert from 'node:assert/strict';
import { mock, test } from 'node:test';
import { whenQuiet } from '../../../src/lib/server/when-quiet.ts';

test('a burst is run once when it is over, and once in a while where it does not end', () => {
  mock.timers.enable({ apis: ['setTimeout', 'Date'], now: 1000 });
  try {
    let runs = 0;
    const { stir, stop } = whenQuiet(40, 500, () => (runs += 1));
    for (let i = 0; i < 5; i++) {
      stir();
      mock.timers.tick(20);
    }
    assert.equal(runs, 0);
    mock.timers.tick(40);
    assert.equal(runs, 1);
    for (let i = 0; i < 60; i++) {
      stir();
      mock.timers.tick(20);
    }
    assert.equal(runs, 3);
    stop();
    mock.timers.tick(1000);
    assert.equal(runs, 3);
  } finally {
    mock.timers.reset();
  }
});
