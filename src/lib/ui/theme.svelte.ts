/** Day or night: as the system says until the user says otherwise. */
export type Theme = 'day' | 'night';

let chosen = $state<Theme>('day');

function show(next: Theme): void {
  chosen = next;
  document.documentElement.dataset['theme'] = next;
}

export const theme = {
  get name(): Theme {
    return chosen;
  },
  restore(): void {
    const kept = localStorage.getItem('theme');
    const system = matchMedia('(prefers-color-scheme: dark)').matches ? 'night' : 'day';
    show(kept === 'day' || kept === 'night' ? kept : system);
  },
  toggle(): void {
    show(chosen === 'day' ? 'night' : 'day');
    localStorage.setItem('theme', chosen);
  },
};
