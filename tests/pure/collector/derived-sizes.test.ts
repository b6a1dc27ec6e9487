/** Used sizes that follow from border boxes, as the engine would write them. */
import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { derivedSizes } from '../../../src/collector/reading/derived-sizes.ts';

interface Case {
  sizing?: string;
  padding?: string;
  border?: string;
  /** The last reading's used width and border box, and the border box now. */
  used: string;
  was: number;
  is: number;
  /** null: the engine must be asked. */
  told: string | null;
}

const CASES: Record<string, Case> = {
  'with padding and border left out': {
    padding: '0px 10px',
    border: '1px',
    used: '478px',
    was: 500,
    is: 451.5,
    told: '429.5px',
  },
  'with them in it': {
    sizing: 'border-box',
    padding: '0px 10px',
    used: '500px',
    was: 500,
    is: 333.328125,
    told: '333.328px',
  },
  'six digits, a half to the even one': { used: '1000px', was: 1000, is: 1234.125, told: '1234.12px' },
  'six digits, a half up to the even one': { used: '1000px', was: 1000, is: 1234.375, told: '1234.38px' },
  'less than one': { used: '1px', was: 1, is: 0.984375, told: '0.984375px' },
  'nothing at all': { used: '1px', was: 1, is: 0, told: '0px' },
  'padding that layout cut off to its units': {
    padding: '0px 8.4px',
    used: '100px',
    was: 116.78125,
    is: 66.78125,
    told: '50px',
  },
  'as before, whatever it is': { used: 'auto', was: 40, is: 40, told: 'auto' },
  'asked: no length': { used: 'auto', was: 40, is: 41, told: null },
  'asked: drawn larger than it is': { used: '100px', was: 200, is: 220, told: null },
  'asked: the room of a scrollbar': { used: '85px', was: 100, is: 90, told: null },
  'asked: between two units, as what is scaled': { used: '100px', was: 100, is: 90.01, told: null },
  'asked: so wide that six digits do not tell': { used: '12000px', was: 12000, is: 12001, told: null },
  'asked: less than its padding': { padding: '0px 20px', used: '10px', was: 50, is: 30, told: null },
};

describe('a used width', () => {
  for (const [
    name,
    { sizing = 'content-box', padding = '0px', border = '0px', used, was, is, told },
  ] of Object.entries(CASES))
    test(name, () => {
      const strings = [sizing, padding, border, used];
      const column = (at: number) => Int32Array.from([at]);
      const columns = {
        'box-sizing': column(0),
        padding: column(1),
        'border-width': column(2),
        width: column(3),
      };
      const of = (text: string) => (strings.includes(text) ? strings.indexOf(text) : strings.push(text) - 1);
      const rect = (width: number) => Float64Array.from([0, 0, width, 10]);
      const at = derivedSizes(
        { strings, used: columns, displays: ['block'] },
        rect(is),
        rect(was),
        of,
      )('width', 0);
      assert.equal(at < 0 ? null : strings[at], told);
    });
});
