/** Which sides of the Bench are folded away, so that the page can have the room; kept from visit to visit. */
export type Side = 'left' | 'right';

const KEY = 'bench-folds';

export function createFolds() {
  const kept = new Set((localStorage.getItem(KEY) ?? '').split(' '));
  let left = $state(kept.has('left'));
  let right = $state(kept.has('right'));
  return {
    get left() {
      return left;
    },
    get right() {
      return right;
    },
    toggle: (side: Side): void => {
      if (side === 'left') left = !left;
      else right = !right;
      localStorage.setItem(KEY, [left ? 'left' : '', right ? 'right' : ''].join(' ').trim());
    },
  };
}
