/** A profile of default styles: what every HTML element is given when the author says nothing, in both modes. */
import { z } from 'zod';
import type { Defaults } from '../../reading/reading.ts';

const entrySchema = z.object({
  value: z.string(),
  em: z.number().optional(),
  inherited: z.boolean().optional(),
});
export type Entry = z.infer<typeof entrySchema>;

/** `usual`: what most elements have; `elements`: what others have of their own. */
const modeSchema = z.object({
  usual: z.record(z.string(), entrySchema),
  elements: z.record(z.string(), z.record(z.string(), entrySchema)),
});

export const profileSchema = z.object({
  normetra: z.literal('atlas/1'),
  /** By which it is asked for. */
  name: z.string().min(1).max(60),
  title: z.string().min(1).max(120),
  /** The engine that it was measured in; of a style sheet: the one that was asked what it comes to. */
  engine: z.object({ name: z.string(), version: z.string() }),
  /** How it was made. */
  made: z.string(),
  standards: modeSchema,
  quirks: modeSchema,
});
export type Profile = z.infer<typeof profileSchema>;
export type Mode = 'standards' | 'quirks';

const isSame = (a: Entry | undefined, b: Entry | undefined): boolean =>
  a !== undefined && b !== undefined && a.value === b.value && a.em === b.em && a.inherited === b.inherited;

/** Folds what most elements have alike. */
export function folded(defaults: Defaults): Profile['standards'] {
  const counts = new Map<string, Map<string, { entry: Entry; count: number }>>();
  for (const values of Object.values(defaults))
    for (const [property, entry] of Object.entries(values)) {
      const of = counts.get(property) ?? new Map<string, { entry: Entry; count: number }>();
      counts.set(property, of);
      const key = JSON.stringify(entry);
      const cached = of.get(key);
      if (cached) cached.count++;
      else of.set(key, { entry, count: 1 });
    }
  const usual: Record<string, Entry> = {};
  for (const [property, of] of counts)
    usual[property] = [...of.values()].reduce((a, b) => (b.count > a.count ? b : a)).entry;
  const elements: Profile['standards']['elements'] = {};
  for (const [key, values] of Object.entries(defaults))
    elements[key] = Object.fromEntries(
      Object.entries(values).filter(([property, entry]) => !isSame(entry, usual[property])),
    );
  return { usual, elements };
}

/** What an element has by a profile; null: the profile does not know the element or the property. */
export function entryOf(profile: Profile, mode: Mode, key: string, property: string): Entry | null {
  const ownEntry = profile[mode].elements[key];
  return ownEntry ? (ownEntry[property] ?? profile[mode].usual[property] ?? null) : null;
}

/** All of a mode, as the collector's `defaults` gives it. */
export function unfolded(profile: Profile, mode: Mode): Defaults {
  const { usual, elements } = profile[mode];
  return Object.fromEntries(Object.entries(elements).map(([key, values]) => [key, { ...usual, ...values }]));
}

/** A default in the words of a style sheet. */
export const entryText = ({ value, em, inherited }: Entry): string =>
  inherited ? 'inherit' : em !== undefined ? `${Number(em.toFixed(5))}em` : value;

export interface Difference {
  key: string;
  property: string;
  a: Entry;
  b: Entry;
  /** CSS px at the root's font size by which two lengths differ; null: it is not a matter of px. */
  px: number | null;
}

const ROOT_SIZE = 16;

function pxOf({ value, em, inherited }: Entry): number | null {
  if (inherited) return null;
  if (em !== undefined) return em * ROOT_SIZE;
  return /^-?[\d.]+px$/.test(value) ? Number.parseFloat(value) : null;
}

/** Properties that give no box another size or place. */
const UNSEEN = new Set([
  'color',
  'background-color',
  'z-index',
  'will-change',
  'opacity',
  'filter',
  'object-fit',
]);
export const isGeometry = (property: string): boolean => !UNSEEN.has(property);

/** Where two profiles differ, in the order of the elements. `properties`: those that count; all where not given. */
export function differencesOf(
  a: Profile,
  b: Profile,
  mode: Mode,
  counts: (property: string) => boolean = isGeometry,
): Difference[] {
  const out: Difference[] = [];
  for (const key of Object.keys(a[mode].elements)) {
    if (!b[mode].elements[key]) continue;
    const properties = new Set([...Object.keys(a[mode].usual), ...Object.keys(b[mode].usual)]);
    for (const property of properties) {
      const [entry, other] = [entryOf(a, mode, key, property), entryOf(b, mode, key, property)];
      if (!entry || !other || !counts(property) || isAlike(property, entry, other)) continue;
      const [pxA, pxB] = [pxOf(entry), pxOf(other)];
      out.push({
        key,
        property,
        a: entry,
        b: other,
        px: pxA !== null && pxB !== null ? Math.abs(pxA - pxB) : null,
      });
    }
  }
  return out;
}

/** Engines write some values in another way, and round lengths to other fractions of a px. */
function isAlike(property: string, a: Entry, b: Entry): boolean {
  if (isSame(a, b)) return true;
  if (!!a.inherited !== !!b.inherited) return false;
  if (a.inherited && b.inherited) return true;
  const [pxA, pxB] = [pxOf(a), pxOf(b)];
  if (pxA !== null && pxB !== null && (a.em === undefined) === (b.em === undefined))
    return Math.abs(pxA - pxB) < 0.05;
  return spelled(property, a.value) === spelled(property, b.value) && a.em === b.em;
}

/** One way to write what engines write in several. */
function spelled(property: string, value: string): string {
  if (value === 'normal' && /^(align|justify)-/.test(property)) return 'normal';
  return value.replaceAll('"', '').replace(/^(-webkit-|-moz-)/, '');
}
