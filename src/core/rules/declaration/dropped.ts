/** Declarations that the parser throws away because of a slip, and nothing valid in their place. */
import { invalidAreas } from '../../css/values/template-areas.ts';
import { boxName } from '../../visibility/visibility.ts';
import type { Analysis } from '../../analysis.ts';
import { candidates, droppedOf } from '../../css/cascade/candidates.ts';
import { canonical, longhandsOf } from '../../css/cascade/shorthands.ts';
import type { Source } from '../../css/cascade/styles.ts';
import { knownProperty, matchesSyntax } from '../../css/syntax/property-syntax.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { stopsByEvidence, stopsByVisibility } from '../stops.ts';

/** What is written for other engines, or for very old ones. */
const FOREIGN = /^[-*_]|^(zoom|filter|behavior|scrollbar-|speak|mso-)/i;

/** What moves, prints, or answers the hand, and is not seen of a page at rest. */
const UNSEEN =
  /^(animation|transition|cursor$|will-change|user-select|user-drag|pointer-events|touch-action|tap-highlight|overscroll-|scroll-|page(-break)?|break-|orphans$|widows$|(print-)?color-adjust$|caret-|accent-|image-rendering|text-rendering|(osx-)?font-smooth|text-size-adjust|text-decoration-skip|forced-color|interpolation)/i;

const FOREIGN_VALUE = /(^|[\s,(])-(webkit|moz|ms|o|khtml)-|progid:|expression\(|\\9|!ie/i;

function dropped(analysis: Analysis): Observed[] {
  const found = new Map<
    string,
    { source: Source; why: string; elements: number[]; property: string; value: string }
  >();
  for (let i = 0; i < analysis.tree.count; i++)
    for (const { declaration, source, why } of droppedOf(analysis.styles, i)) {
      const { property, value } = declaration;
      const isForeign =
        FOREIGN.test(property) || FOREIGN_VALUE.test(value) || value === '' || property.startsWith('--');
      if (
        stopsByEvidence(
          analysis,
          i,
          isForeign && `${property} is for another engine or an old one, or says nothing`,
        )
      )
        continue;
      if (stopsByVisibility(analysis, i, UNSEEN.test(property) && `${property} is not seen of a page at rest`))
        continue;
      if (
        stopsByEvidence(
          analysis,
          i,
          hasFallback(analysis, i, property, source) && `the same block has a valid value of ${property}`,
        )
      )
        continue;
      // What the specifications know and this engine does not is no slip.
      const isKnown =
        knownProperty(property) &&
        matchesSyntax(property, value) &&
        !(property === 'grid-template-areas' && invalidAreas(value) !== null);
      if (
        stopsByEvidence(
          analysis,
          i,
          isKnown && `${property}: ${value} is valid, and this engine does not know it`,
        )
      )
        continue;
      const key = `${source.sheet} ${source.line} ${source.column}`;
      const previous = found.get(key) ?? { source, why, elements: [], property, value };
      previous.elements.push(i);
      found.set(key, previous);
    }
  return [...found.values()].map(({ source, why, elements, property, value }) =>
    observed({
      px: 0,
      axis: 'x',
      subject: elements[0]!,
      what: `${property}: ${value} is dropped on ${elements.length === 1 ? boxName(analysis, elements[0]!) : `${elements.length} boxes`}: ${why}`,
      places: elements,
      weight: 12,
      source,
    }),
  );
}

/** Whether the same block says something valid of the property: then the dropped one was for other engines. */
function hasFallback(analysis: Analysis, element: number, property: string, source: Source): boolean {
  const names = longhandsOf(property).length > 0 ? longhandsOf(property) : [canonical(property)];
  const all = candidates(analysis.styles, element);
  return names.some((text) =>
    (all.get(text) ?? []).some(
      (candidate) => candidate.source.sheet === source.sheet && candidate.selector === source.selector,
    ),
  );
}

export const rule: Rule<'declaration/dropped'> = {
  id: 'declaration/dropped',
  kind: 'dropped',
  title: 'A declaration is dropped by the parser',
  spec: ['CSS Syntax 3 §5.4.5'],
  why: 'A name or a value that is not in the syntax makes the parser drop the declaration.',
  usual: 'Write it as the syntax asks.',
  example: `<style>p { widht: 200px; padding: 8 px }</style><p>Text</p>`,
  observe: dropped,
};
