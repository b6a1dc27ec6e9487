/** Controls that are too narrow for the text in them (HTML §15.5, CSS Sizing 3 §5.1). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import { intrinsicOf } from '../../accounts/sizing/intrinsic-sizing.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { attribute } from '../../boxes/tree.ts';
import { facts } from '../../evidence/model.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { px } from '../../geometry/rect.ts';
import { tagOf } from '../../reading/labels.ts';
import { boxName } from '../../visibility/visibility.ts';
import { beforeEnd } from '../drawn.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isUnseen, stopsByGeometry, stopsByVisibility } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';

const LEAST = 4;

/** Types of input that show their value as text. */
const TEXTUAL = /^(|text|search|email|url|tel|number|password|date|time|month|week|datetime-local)$/i;

/** CSS px of text that a control has no room for; 0: it has, or it is not known. */
function lackOf(analysis: Analysis, control: number): number {
  const { tree, reading } = analysis;
  const tag = tagOf(reading, control);
  const { content, rect } = laidAreas(tree, control);
  // What its longest option takes, with the arrow, is what the engine says of it under no pressure.
  if (tag === 'select') return (intrinsicOf(analysis, control)?.max ?? content.width) - content.width;
  const { scrolls } = reading;
  for (let at = 0; at + 4 < scrolls.length; at += 5)
    if (scrolls[at] === control) return Math.min(scrolls[at + 3]! - scrolls[at + 1]!, 4 * rect.width);
  return 0;
}

function tooNarrow(analysis: Analysis): Observed[] {
  const { tree, reading } = analysis;
  const out: Observed[] = [];
  for (let i = 1; i < tree.count; i++) {
    const tag = tagOf(reading, i);
    if (tag !== 'select' && tag !== 'input') continue;
    if (isUnseen(analysis, i)) continue;
    const type = attribute(tree, i, 'type') ?? '';
    if (stopsByGeometry(analysis, i, tag === 'input' && !TEXTUAL.test(type) && 'its value is no text'))
      continue;
    if (
      stopsByGeometry(
        analysis,
        i,
        tag === 'select' && attribute(tree, i, 'multiple') !== null && 'it shows several options',
      )
    )
      continue;
    const by = lackOf(analysis, i);
    if (stopsByVisibility(analysis, i, by < LEAST && 'it has room for its text')) continue;
    const { content } = laidAreas(tree, i);
    out.push(
      observed({
        px: by,
        axis: 'x',
        subject: i,
        what: `${boxName(analysis, i)} is ${px(by)} px too narrow for ${tag === 'select' ? 'its longest option' : 'the text in it'}`,
        evidence: facts(
          [
            'much-is-cut',
            by > 0.3 * content.width &&
              `That is ${Math.round((100 * by) / (content.width + by))} % of the text`,
          ],
          [
            'another-option-is-shown',
            tag === 'select' && 'The longest option need not be the one that is shown',
          ],
          ['scrolls-by-itself', tag === 'input' && 'A field can be scrolled along while it is edited'],
        ),
        boxes: [i],
        weight: 40 + by / 2,
      }),
    );
  }
  return out;
}

function suspects(analysis: Analysis, { subject }: Observation): Suspect[] {
  const out: Suspect[] = [];
  const own = (property: string): string | null => {
    const declaration = authorDeclaration(analysis, subject, property);
    return declaration?.owner === subject ? declaration.value : null;
  };
  const name = boxName(analysis, subject);
  for (const [rank, property, value] of [
    [104, 'width', 'auto'],
    [102, 'max-width', 'none'],
    [96, 'flex-basis', 'auto'],
  ] as const)
    if (own(property) !== null && !/^(auto|none)$/.test(own(property)!))
      out.push(
        suspect(analysis, subject, property, `${name} is made narrower than its text`, [
          fix('let it be as wide as its text', subject, property, value, rank),
        ]),
      );
  const { padding } = laidAreas(analysis.tree, subject);
  if (padding.left + padding.right > 24)
    out.push(
      suspect(
        analysis,
        subject,
        padding.right >= padding.left ? 'padding-right' : 'padding-left',
        `the padding of ${name} takes ${px(padding.left + padding.right)} px of its width`,
        [
          fix(
            'take less for the padding',
            subject,
            padding.right >= padding.left ? 'padding-right' : 'padding-left',
            '0.5em',
            60,
          ),
        ],
      ),
    );
  if (out.length === 0)
    out.push(
      suspect(
        analysis,
        subject,
        'width',
        `${name} is ${px(laidAreas(analysis.tree, subject).rect.width)} px wide by itself`,
        [fix('let it be as wide as its text', subject, 'width', 'max-content', 80)],
      ),
    );
  return out;
}

export const rule: Rule<'clip/control-text'> = {
  id: 'clip/control-text',
  kind: 'clip',
  title: 'A control is too narrow for its text',
  spec: ['HTML §15.5', 'CSS Sizing 3 §5.1'],
  why: 'A width, or a padding in it, leaves a control less room than its text or its longest option takes.',
  usual: 'Let the control be as wide as its text, or give it a minimum in `ch`.',
  example: `<style>select { width: 90px; padding: 0 20px }</style><select><option>Gannet Steps, lower quay</select>`,
  observe: tooNarrow,
  suspects,
  drawn: beforeEnd,
};
