/** Viewport sizes to choose from: common ones, and those the user kept. */
import { z } from 'zod';

const COMMON = [
  { width: 320, height: 640, name: 'small phone' },
  { width: 360, height: 800, name: 'phone' },
  { width: 412, height: 915, name: 'large phone' },
  { width: 768, height: 1024, name: 'tablet' },
  { width: 1024, height: 768, name: 'tablet, lying' },
  { width: 1280, height: 800, name: 'laptop' },
  { width: 1440, height: 900, name: 'desk' },
  { width: 1920, height: 1080, name: 'wide' },
];
const KEY = 'own-sizes';

function kept(): string[] {
  const parsed = z
    .array(z.string().regex(/^\d+x\d+$/))
    .safeParse(JSON.parse(localStorage.getItem(KEY) ?? '[]'));
  return parsed.success ? parsed.data : [];
}

let own = $state<string[]>(kept());

function store(next: string[]): void {
  own = next;
  localStorage.setItem(KEY, JSON.stringify(next));
}

export const sizes = {
  common: COMMON,
  get own(): string[] {
    return own;
  },
  keep: (width: number, height: number): void => store([...new Set([...own, `${width}x${height}`])]),
  drop: (size: string): void => store(own.filter((one) => one !== size)),
};
