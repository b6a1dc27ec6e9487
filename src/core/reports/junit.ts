/** Findings as JUnit XML: each a failed test case, for continuous integration. */
import type { FindingsDocument } from './findings.ts';

/** Characters that XML 1.0 (2.2) cannot hold are left out. */
const isAllowed = (letter: string): boolean => /[\t\n\r]|[^\p{Cc}\p{Cs}\ufffe\uffff]/u.test(letter);

const escaped = (text: string): string =>
  [...text]
    .filter(isAllowed)
    .join('')
    .replace(/&/g, '&amp;')
    .replace(/</g, '&lt;')
    .replace(/>/g, '&gt;')
    .replace(/"/g, '&quot;');

/** `atLeast`: findings below that many px are passed. */
export function junitDocument({ page, widths, findings }: FindingsDocument, atLeast: number): string {
  const real = findings.filter(({ grade, px }) => grade === 'wrong' && px >= atLeast);
  const name = escaped(page);
  const cases = real.map(({ kind, subject, because, culprits }) => {
    const source = culprits[0]?.source;
    const place = source && source.line > 0 ? `${source.sheet}:${source.line}:${source.column}` : page;
    return (
      `    <testcase classname="${name}" name="${escaped(`${kind}: ${subject}`)}">\n` +
      `      <failure type="${kind}" message="${escaped(because)}">${escaped(place)}</failure>\n    </testcase>`
    );
  });
  if (cases.length === 0)
    cases.push(`    <testcase classname="${name}" name="nothing found at ${widths.join(', ')} px"/>`);
  return (
    `<?xml version="1.0" encoding="UTF-8"?>\n<testsuites>\n` +
    `  <testsuite name="${name}" tests="${cases.length}" failures="${real.length}">\n${cases.join('\n')}\n  </testsuite>\n</testsuites>`
  );
}
