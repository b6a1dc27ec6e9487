/** Profiles of default styles in words. */
import { keyName } from '../css/defaults/keys.ts';
import { differencesOf, entryText, isGeometry, type Mode, type Profile } from '../css/defaults/profile.ts';

/** Each element with what it has of its own. */
export function atlasText(profile: Profile, mode: Mode): string {
  const { elements } = profile[mode];
  const head = `${profile.title} (${profile.engine.name} ${profile.engine.version}), ${mode} mode: ${Object.keys(elements).length} elements`;
  const lines = Object.entries(elements).map(([key, entryHere]) => {
    const list = Object.entries(entryHere)
      .filter(([property]) => isGeometry(property))
      .map(([property, entry]) => `${property}: ${entryText(entry)}`);
    return `${keyName(key)}\n  ${list.length > 0 ? list.join('\n  ') : '(what most elements have)'}`;
  });
  return [head, ...lines].join('\n');
}

/** What is said of elements, by the keys of these. */
export function byElement<T extends { key: string }>(list: readonly T[]): Map<string, T[]> {
  const out = new Map<string, T[]>();
  for (const entry of list) out.set(entry.key, [...(out.get(entry.key) ?? []), entry]);
  return out;
}

/** Where two profiles differ, element by element. */
export function differencesText(a: Profile, b: Profile, mode: Mode): string {
  const list = differencesOf(a, b, mode);
  const by = byElement(list);
  const head = `${a.title} against ${b.title}, ${mode} mode: ${list.length} differences on ${by.size} elements`;
  const lines = [...by].map(
    ([key, values]) =>
      `${keyName(key)}\n${values
        .map(
          ({ property, a: a, b: other, px }) =>
            `  ${property}: ${entryText(a)}, and ${entryText(other)} there${px === null ? '' : ` (${Math.round(px * 100) / 100} px)`}`,
        )
        .join('\n')}`,
  );
  return [head, ...lines].join('\n');
}
