/** A trial written out: as a patch of the specimen's files, as rules alone, and in words for whoever owns the sheet. */
import { createTwoFilesPatch } from 'diff';
import { collapseShorthands } from '../css/cascade/collapse-shorthands.ts';
import type { Change, Edit, NewDeclaration } from './edit.ts';
import { declarationText, ofFiles, overlay, ruleText, widthCondition } from './overlay.ts';
import { placeOf } from './text-patch.ts';
import { blockOf, declarationIn, type Files } from './targets.ts';

type Texts = Readonly<Record<string, string>>;

/** A unified diff of the files that change, as `patch -p1` and `git apply` take it; '' where none does. */
export function unifiedDiff(texts: Texts, edits: readonly Edit[], page: string): string {
  const result = overlay(texts, ofFiles(edits), page);
  return Object.keys(result.texts)
    .sort()
    .map((file) => {
      const patch = createTwoFilesPatch(
        `a/${file}`,
        `b/${file}`,
        texts[file] ?? '',
        result.texts[file]!,
        undefined,
        undefined,
        {
          context: 3,
        },
      );
      return `diff --git a/${file} b/${file}\n${patch.replace(/^=+\n/, '').replace(/\t\n/g, '\n')}`;
    })
    .join('');
}

/** The changed declarations by rule, as CSS on its own. What is taken out is told in a comment. */
export function changedRules(edits: readonly Edit[]): string {
  const rules = new Map<
    string,
    { head: string; conditions: string[]; list: NewDeclaration[]; out: string[] }
  >();
  for (const { change, widths } of ofFiles(edits)) {
    const selector = selectorOf(change);
    if (!selector) continue;
    const conditions = [...selector.conditions, ...(widths ? [`media ${widthCondition(widths)}`] : [])];
    const key = [selector.head, ...conditions].join('\n');
    const rule = rules.get(key) ?? { head: selector.head, conditions, list: [], out: [] };
    rules.set(key, rule);
    if (change.do === 'mute') rule.out.push(`${change.property}: ${change.was}`);
    else if (change.do === 'rule') rule.list.push(...change.declarations);
    else if (change.do === 'change' || change.do === 'add') {
      const { property, value, important } = change;
      rule.list = [...rule.list.filter((entry) => entry.property !== property), { property, value, important }];
    }
  }
  return [...rules.values()]
    .map(({ head, conditions, list, out }) => {
      const inner = ruleText(head, collapseShorthands(list));
      const noted = out.map((text) => `  /* taken out: ${text} */\n`).join('');
      const body = inner.replace(/\}\n$/, `${noted}}\n`);
      return conditions.reduceRight(
        (text, condition) => `@${condition} {\n${text.replace(/^(?=.)/gm, '  ')}}\n`,
        body,
      );
    })
    .join('\n');
}

function selectorOf(change: Change): { head: string; conditions: string[] } | null {
  if (change.do === 'rule') return { head: change.selector, conditions: [] };
  if (change.do !== 'change' && change.do !== 'mute' && change.do !== 'add') return null;
  return change.at.kind === 'rule'
    ? { head: change.at.prelude, conditions: change.at.conditions }
    : { head: change.at.path, conditions: [] };
}

/** One sentence for each edit: where it is, and what becomes of what. */
export const inWords = (files: Files, edits: readonly Edit[]): string[] =>
  edits.filter(({ on }) => on).map((edit) => sentence(files, edit));

function sentence(files: Files, { change, widths }: Edit): string {
  const at = widths ? ` (from ${widths.from} to ${widths.to} px wide)` : '';
  const where = placeWords(files, change);
  switch (change.do) {
    case 'change':
      return `${where}: ${change.property} ${change.was} becomes ${change.value}${change.important ? ' !important' : ''}${at}`;
    case 'mute':
      return `${where}: ${change.property}: ${change.was} is taken out${at}`;
    case 'add':
      return `${where}: ${declarationText(change)} is added${at}`;
    case 'rule':
      return `${where}: a new rule ${change.selector} { ${change.declarations.map(declarationText).join('; ')} }${at}`;
    case 'remove':
      return `${where}: the element is taken out`;
    case 'duplicate':
      return `${where}: the element stands there twice`;
    case 'move':
      return `${where}: the element is moved ${{ before: 'before', after: 'behind', start: 'to the start of', end: 'to the end of' }[change.where]} ${change.to}`;
    case 'text':
      return `${where}: its text becomes “${change.text}”`;
    case 'markup':
      return `${where}: its content becomes ${change.markup}`;
    case 'attribute':
      return change.value === null
        ? `${where}: the attribute ${change.name} is taken out`
        : `${where}: ${change.name} becomes “${change.value}”`;
    case 'state':
      return `${where}: shown as if ${change.states.map((state) => `:${state}`).join(', ')}`;
    case 'viewport':
      return change.content === null
        ? `${where}: the viewport meta element is taken out`
        : `${where}: the viewport meta element says “${change.content}”`;
  }
}

/** `in fares.css, line 12, rule .fare`. */
function placeWords(files: Files, change: Change): string {
  if (change.do === 'rule')
    return change.at.file === '' ? 'in a sheet of its own' : `at the end of ${change.at.file}`;
  if (change.do === 'viewport') return `in ${change.file}`;
  if (!('at' in change)) return `in ${change.file}, ${change.path}`;
  const { at } = change;
  if (at.kind === 'inline') return `in ${at.file}, style attribute of ${at.path}`;
  const block = blockOf(files, at);
  const found = block && change.do !== 'add' ? declarationIn(block, change.property, change.nth) : null;
  const offset = block ? block.base + (found?.start ?? block.rule.start) : 0;
  const line = placeOf(files.text(at.file) ?? '', offset).line;
  const under = at.conditions.length ? ` under ${at.conditions.join(' and ')}` : '';
  return `in ${at.file}, line ${line}, rule ${at.prelude}${under}`;
}
