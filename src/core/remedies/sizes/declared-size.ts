/** Take out or limit a size that is declared: a width, a minimum, a height, a basis, a ratio (CSS Sizing 3 §3). */
import { cite, isLength, authorDeclaration } from '../../accounts/author-declaration.ts';
import { put, type Proposal } from '../model.ts';
import { itemsAround, type SizeQuestion } from './size-question.ts';

/** A declared size, limited, made a minimum or taken out. */
export function declaredSize({ analysis, observation, element, label, used }: SizeQuestion): Proposal[] {
  const out: Proposal[] = [];
  const { tree } = analysis;
  const { kind, boxes, axis, px, subject, other, rule } = observation;
  const size = axis === 'x' ? 'width' : 'height';
  // A box that what is in it takes all of is not to blame for what comes on top of that.
  const isFilled = boxes.some(
    (box) =>
      box !== subject && axis === 'y' && /%/.test(authorDeclaration(analysis, box, 'height')?.value ?? ''),
  );
  for (const property of [size, `min-${size}`, `max-${size}`, 'flex-basis', 'aspect-ratio']) {
    if (property === 'flex-basis' && tree.kinds[element] !== 'flex-item') continue;
    const declaration = authorDeclaration(analysis, element, property);
    if (
      !declaration ||
      declaration.owner !== element ||
      !(isLength(declaration.value) || property === 'aspect-ratio')
    )
      continue;
    if (property === `max-${size}` && kind === 'overflow' && axis === 'x') continue;
    if (property === 'aspect-ratio' && (declaration.value === 'auto' || axis === 'x')) continue;
    const fixed = !/%/.test(declaration.value);
    const isAround =
      element === other && (rule === 'overflow/container' || rule === 'overflow/scroll-container');
    const base =
      property === size ? 80 : property === `min-${size}` ? 88 : property === `max-${size}` ? 78 : 60;
    const make = (words: string, value: string, less: number): Proposal => ({
      element,
      property,
      source: declaration.source,
      rule: property.startsWith('min-') ? 'minimum' : property.startsWith('max-') ? 'maximum' : 'declared',
      because: `${label} is ${property === size ? 'set to' : property === `min-${size}` ? 'at least' : property === `max-${size}` ? 'at most' : 'based on'} ${declaration.value} ${cite(declaration)}`,
      words,
      steps: [put(analysis, element, property, value)],
      rank:
        base +
        (fixed ? 5 : 0) +
        (used > px ? 3 : 0) -
        less -
        (isFilled && element === subject ? 12 : 0) -
        (isAround ? 30 : 0),
      gives: property.startsWith('max-') || axis === 'y' ? Infinity : used,
      isAround,
    });
    if (declaration.source.origin === 'attribute') {
      out.push({
        ...make('limit it to its container', 'auto', 0),
        steps: [put(analysis, element, 'max-width', '100%')],
      });
      continue;
    }
    if (property === 'height' && /overlap|clip|^overflow/.test(kind)) {
      out.push({
        ...make('make it a minimum', 'auto', 0),
        steps: [
          put(analysis, element, 'height', 'auto'),
          put(analysis, element, 'min-height', declaration.value),
        ],
      });
      out.push(make('let it be as tall as its content', 'auto', 1));
    } else if (property === 'width' && kind === 'overflow' && fixed) {
      out.push({
        ...make('limit it to its container', 'auto', 0),
        steps: [put(analysis, element, 'max-width', '100%')],
      });
      out.push(make('let it be as wide as it must', 'auto', 1));
      const items = itemsAround(analysis, element, subject);
      if (items.length > 0)
        out.push({
          ...make('limit it to its container, and let that shrink', 'auto', 2),
          steps: [put(analysis, element, 'max-width', '100%'), ...items],
        });
    } else
      out.push(
        make(
          'take it out',
          property.startsWith('min-') ? '0' : property.startsWith('max-') ? 'none' : 'auto',
          0,
        ),
      );
  }
  return out;
}
