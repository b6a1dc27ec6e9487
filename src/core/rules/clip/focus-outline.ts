/** Outlines of focused controls that a box around them cuts off (CSS UI 4 §3, CSS Overflow 3 §3). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import { declaredPx } from '../../accounts/sizing/declared.ts';
import type { Analysis } from '../../analysis.ts';
import { OPERATED } from '../../boxes/kinds.ts';
import { rectOf } from '../../boxes/tree.ts';
import { facts } from '../../evidence/model.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { px } from '../../geometry/rect.ts';
import { tagOf } from '../../reading/labels.ts';
import { boxName, paddingBox, visibilityOf } from '../../visibility/visibility.ts';
import { type Observed, type Rule, observed, oncePerAnalysis } from '../model.ts';
import { isUnseen, stopsByGeometry, stopsByVisibility } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';

/** CSS px that the engine's own ring takes beyond a control. */
const RING = 3;

interface Outline {
  /** Matches the last compound of the selector: tag, id and classes that must be there. */
  tag: string;
  id: string;
  classes: string[];
  /** CSS px beyond the border box, of an element's own units where they are relative. */
  width: string;
  offset: string;
}

/** Outlines that rules for the focused state declare. */
const focusOutlines = oncePerAnalysis(({ sources }): Outline[] =>
  sources.plan.rules.flatMap(({ rule, selectors }) => {
    const value = (name: string): string =>
      rule.declarations.findLast(({ property }) => property === name)?.value ?? '';
    const [outline, offset] = [value('outline') || value('outline-width'), value('outline-offset')];
    const width = /(^|\s)(\d*\.?\d+[a-z]+)/.exec(outline)?.[2] ?? '';
    if (width === '') return [];
    return selectors.flatMap(({ selector: { query } }) => {
      if (!/:focus(-visible|-within)?\b/.test(query)) return [];
      const last = query
        .trim()
        .split(/[\s>+~]+(?![^(]*\))/)
        .at(-1)!
        .replace(/:{1,2}[\w-]+(\([^)]*\))?|\[[^\]]*\]/g, '');
      return [
        {
          tag: /^[a-z][\w-]*/i.exec(last)?.[0].toLowerCase() ?? '',
          id: /#([\w-]+)/.exec(last)?.[1] ?? '',
          classes: [...last.matchAll(/\.([\w-]+)/g)].map(([, name]) => name!),
          width,
          offset,
        },
      ];
    });
  }),
);

/** The outline of controls with one tag, id and classes; null: none is declared for them. */
const outlinesBySort = oncePerAnalysis(() => new Map<string, Outline | null>());

/** How far an outline of the author reaches beyond a control; null: none is declared for it. */
function declaredReach(analysis: Analysis, control: number): number | null {
  const { reading } = analysis;
  const text = (index: number | undefined): string => reading.strings[index ?? -1] ?? '';
  const [tag, id, names] = [
    tagOf(reading, control),
    text(reading.idName[control]),
    text(reading.classes[control]),
  ];
  const cache = outlinesBySort(analysis);
  const sort = `${tag}#${id} ${names}`;
  let outline = cache.get(sort);
  if (outline === undefined) {
    const classes = new Set(names.split(/\s+/));
    outline =
      focusOutlines(analysis).findLast(
        (entry) =>
          (entry.tag === '' || entry.tag === tag) &&
          (entry.id === '' || entry.id === id) &&
          entry.classes.every((name) => classes.has(name)),
      ) ?? null;
    cache.set(sort, outline);
  }
  if (!outline) return null;
  const size = (value: string): number =>
    value === '' ? 0 : declaredPx(analysis, control, 'outline-width', value);
  const reach = size(outline.width) + size(outline.offset);
  return Number.isFinite(reach) ? reach : null;
}

function cutOutlines(analysis: Analysis): Observed[] {
  const { tree, reading } = analysis;
  const { clipper, clipping } = visibilityOf(analysis);
  const out: Observed[] = [];
  for (let i = 1; i < tree.count; i++) {
    const tag = tagOf(reading, i);
    if (!OPERATED.test(tag) || isUnseen(analysis, i)) continue;
    if (stopsByGeometry(analysis, i, !(clipper[i]! > 0) && 'nothing around it cuts anything off')) continue;
    const declared = declaredReach(analysis, i);
    // The engine's own ring of a link in a text is thin, and few clip a text so near.
    if (
      stopsByGeometry(
        analysis,
        i,
        declared === null && tag === 'a' && 'it is a link without an outline of its own',
      )
    )
      continue;
    const reach = declared ?? RING;
    const rect = rectOf(reading, i);
    const sides = new Set<string>();
    let [clip, by] = [-1, 0];
    for (let at = clipper[i]!; at > 0; at = clipper[at]!) {
      const box = paddingBox(analysis, at);
      const [onX, onY] = [(clipping[at]! & 1) > 0, (clipping[at]! & 2) > 0];
      const room = {
        left: onX ? rect.x - box.x : Infinity,
        right: onX ? box.x + box.width - rect.x - rect.width : Infinity,
        top: onY ? rect.y - box.y : Infinity,
        bottom: onY ? box.y + box.height - rect.y - rect.height : Infinity,
      };
      for (const [side, free] of Object.entries(room))
        // What reaches far beyond is cut off itself, and told as that.
        if (free < reach - 0.5 && free > -1) {
          sides.add(side);
          if (clip < 0) clip = at;
          by = Math.max(by, reach - Math.max(0, free));
        }
    }
    if (stopsByVisibility(analysis, i, sides.size < 3 && 'its outline is seen on two sides at least')) continue;
    out.push(
      observed({
        px: by,
        axis: sides.has('left') || sides.has('right') ? 'x' : 'y',
        subject: clip,
        other: i,
        what: `${boxName(analysis, clip)} cuts off ${px(by)} px of the outline that ${boxName(analysis, i)} has while it is focused, on ${sides.size} sides`,
        evidence: facts([
          'outline-of-the-author',
          declared !== null && 'The outline is declared for the focused state',
        ]),
        boxes: [clip, i],
        weight: 20 + by,
      }),
    );
  }
  return out;
}

function suspects(analysis: Analysis, { subject, other, px: by }: Observation): Suspect[] {
  const property =
    ['overflow-x', 'overflow-y'].find((name) => authorDeclaration(analysis, subject, name)) ?? 'overflow-x';
  return [
    suspect(analysis, subject, property, `${boxName(analysis, subject)} clips what lies beyond its padding`, [
      fix('show what lies beyond it', subject, 'overflow', 'visible', 104),
      fix('leave room for the outline', subject, 'padding', `${Math.ceil(by)}px`, 96),
    ]),
    suspect(
      analysis,
      other!,
      'outline-offset',
      `the outline of ${boxName(analysis, other!)} lies outside of it`,
      [fix('draw the outline inside', other!, 'outline-offset', `-${Math.ceil(by)}px`, 90)],
    ),
  ];
}

export const rule: Rule<'clip/focus-outline'> = {
  id: 'clip/focus-outline',
  kind: 'clip',
  title: 'The outline of a focused control is cut off',
  spec: ['CSS UI 4 §3', 'CSS Overflow 3 §3'],
  why: 'An outline takes no room, and lies outside of the border: what clips close to the control cuts it off.',
  usual: 'Show the overflow, leave a padding as wide as the outline, or draw the outline inside.',
  example: `<style>form { overflow: hidden; width: 200px } input { width: 100%; box-sizing: border-box } input:focus { outline: 4px solid teal }</style><form><input></form>`,
  observe: cutOutlines,
  suspects,
};
