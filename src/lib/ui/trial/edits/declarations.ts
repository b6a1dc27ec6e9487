/** Declarations as they are typed, `padding: 4px; width: auto`, held against what the browser takes. */

export interface Typed {
  list: { property: string; value: string }[];
  /** The first that the browser does not take; null: it takes them all. */
  bad: string | null;
}

export function declarationsOf(typed: string): Typed {
  const parts = typed
    .split(';')
    .map((part) => part.trim())
    .filter(Boolean)
    .map((whole) => {
      const at = whole.indexOf(':');
      return {
        whole,
        property: at < 1 ? '' : whole.slice(0, at).trim().toLowerCase(),
        value: at < 1 ? '' : whole.slice(at + 1).trim(),
      };
    });
  const isTaken = ({ property, value }: { property: string; value: string }): boolean =>
    property !== '' && value !== '' && (property.startsWith('--') || CSS.supports(property, value));
  return {
    list: parts.map(({ property, value }) => ({ property, value })),
    bad: parts.find((entry) => !isTaken(entry))?.whole ?? null,
  };
}
