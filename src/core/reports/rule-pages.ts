/** A page for users about every rule: what is told, why it happens, an example, what is usually done. */
import { RULES } from '../rules/index.ts';
import type { Rule } from '../rules/model.ts';

/** Where the specifications that rules cite can be read. */
const SPECIFICATIONS: [name: RegExp, address: string][] = [
  [/^CSS 2\.2 /, 'https://www.w3.org/TR/CSS22/'],
  [/^HTML /, 'https://html.spec.whatwg.org/multipage/rendering.html'],
  [/^Flexbox 1 /, 'https://www.w3.org/TR/css-flexbox-1/'],
  [/^Grid 2 /, 'https://www.w3.org/TR/css-grid-2/'],
  [/^WCAG 2\.2 /, 'https://www.w3.org/TR/WCAG22/'],
  [/^CSSOM View 1 /, 'https://www.w3.org/TR/cssom-view-1/'],
];

function addressOf(cited: string): string {
  const previous = SPECIFICATIONS.find(([name]) => name.test(cited));
  if (previous) return previous[1];
  // `CSS Overflow 3 §2.2`: the short name of a module is its title in lower case (CSS Snapshot 2024).
  const [, title, level] = /^CSS ([A-Za-z ]+) (\d)/.exec(cited)!;
  const short =
    { Images: 'images', 'Positioned Layout': 'position', 'Box Alignment': 'align' }[title!] ??
    title!.toLowerCase();
  return `https://www.w3.org/TR/css-${short.replaceAll(' ', '-')}-${level}/`;
}

function ruleText({ id, kind, title, spec, why, usual, example }: Rule): string {
  return [
    `# ${title}`,
    `Rule \`${id}\`, of the kind \`${kind}\`.`,
    `## Why it happens\n\n${why}\n\nSpecification: ${spec.map((cited) => `[${cited}](${addressOf(cited)})`).join(', ')}.`,
    `## The smallest page on which it is told\n\n\`\`\`html\n${example}\n\`\`\``,
    `## What is usually done\n\n${usual}`,
  ].join('\n\n');
}

/** File name and text of each, and of the list of all. */
export function rulePages(): Record<string, string> {
  const rules: readonly Rule[] = RULES;
  const list = rules.map(({ id, title }) => `- [\`${id}\`](${id}.md): ${title}`);
  const index = `# Rules\n\nWhat Normetra tells of a page. Each rule is a file in \`src/core/rules/\`; these pages are written from them by\n\`npm run docs\`.\n\n${list.join('\n')}\n`;
  return Object.fromEntries([
    ['index.md', index],
    ...rules.map((rule) => [`${rule.id}.md`, `${ruleText(rule)}\n`]),
  ]);
}
