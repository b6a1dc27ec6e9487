/** Shadow trees, pseudo-elements and frames: what of them is listed, where their declarations stand, and what is not looked into. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { boxAccount } from '../../../src/core/accounts/box.ts';
import { pseudosOf } from '../../../src/core/accounts/property.ts';
import type { Analysis } from '../../../src/core/analysis.ts';
import { elementAt } from '../../../src/core/reading/labels.ts';
import { resolve } from '../../../src/core/css/cascade/cascade.ts';
import type { Headless } from '../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../support/engine.ts';

const HTML = `<!doctype html><title>Shadow</title>
<style>x-card { width: 200px; padding: 1px } p { width: 150px; color: red } .a::before { content: "x"; padding: 2px; color: red }
.a.b::before { color: blue }</style>
<x-card><template shadowrootmode="open"><style>
:host { padding: 7px; display: block }
p { width: 50px }
::slotted(i) { padding-left: 3px; display: block }
</style><p style="height: 9px">inside</p><slot></slot></template><i>slotted</i></x-card>
<p class="a b">outside</p>
<iframe width="60" height="30" srcdoc="&lt;p&gt;framed"></iframe>`;

describe('shadow trees, pseudo-elements, frames', () => {
  let headless: Headless;
  let analysis: Analysis;
  before(async () => {
    headless = await openEngine();
    const files = [{ path: 'index.html', type: 'text/html', bytes: new TextEncoder().encode(HTML) }];
    const opened = await headless.open(files, 'index.html', { width: 800, height: 600 });
    analysis = await opened.measure();
  });
  after(() => headless.close());

  const at = (path: string): number => {
    const element = elementAt(analysis.reading, path);
    assert.ok(element >= 0, `nothing at ${path}`);
    return element;
  };
  const says = (path: string, property: string) => {
    const { winner, value } = resolve(analysis.styles, at(path), property);
    return `${value} of ${winner?.selector} at ${winner?.source.line}:${winner?.source.column}`;
  };

  const cases: [string, string, string][] = [
    ['body > x-card >>> p', 'width', '50px of p at 6:5'],
    ['body > x-card >>> p', 'height', '9px of style attribute at 8:19'],
    ['body > p', 'width', '150px of p at 2:50'],
    ['body > x-card', 'padding-left', '1px of x-card at 2:31'],
    ['body > x-card', 'display', 'block of :host at 5:23'],
    ['body > x-card > i', 'padding-left', '3px of ::slotted(i) at 7:16'],
  ];
  for (const [path, property, expected] of cases)
    test(`${property} of ${path}`, () => assert.equal(says(path, property), expected));

  test('the outer tree’s declaration goes before the host’s own', () => {
    const { beaten } = resolve(analysis.styles, at('body > x-card'), 'padding-left');
    assert.deepEqual(
      beaten.map(({ by, candidate }) => `${candidate.selector} by ${by}`),
      [':host by context'],
    );
  });

  test('the boxes of a shadow tree have rectangles and sums', () => {
    const box = boxAccount(analysis, at('body > x-card >>> p'));
    assert.equal(box.width.sentence, '50 wide = 50 content.');
    assert.equal(box.height.used, 9);
  });

  test('pseudo-elements with what they are declared to be', () => {
    const [before_] = pseudosOf(analysis, at('body > p'));
    assert.equal(before_!.name, '::before');
    const color = before_!.properties.find(({ property }) => property === 'color')!;
    assert.equal(color.declared.value, 'blue');
    assert.match(color.beaten[0]!.why, /specificity 0,1,1 is less than 0,2,1/);
  });

  test('a frame is a box, and says why its inside is not there', () => {
    const box = boxAccount(analysis, at('body > iframe'));
    assert.equal(box.width.sentence, '64 wide = 60 content, 2 + 2 border.');
    assert.equal(box.closed, 'a frame with a document of its own');
  });
});
