/** The one way in which the application says that something happened or went wrong. */
export interface Notice {
  id: number;
  kind: 'done' | 'wrong';
  text: string;
  action?: { label: string; run: () => void };
}

let next = 1;
export const notices = $state<Notice[]>([]);

export function dismiss(id: number): void {
  const at = notices.findIndex((notice) => notice.id === id);
  if (at >= 0) notices.splice(at, 1);
}

function show(notice: Omit<Notice, 'id'>, ms: number): void {
  const id = next++;
  notices.push({ ...notice, id });
  if (notices.length > 4) notices.shift();
  setTimeout(() => dismiss(id), ms);
}

export function done(text: string, action?: Notice['action']): void {
  show(action ? { kind: 'done', text, action } : { kind: 'done', text }, action ? 12_000 : 5_000);
}

export function wrong(error: unknown): void {
  show({ kind: 'wrong', text: error instanceof Error ? error.message : String(error) }, 15_000);
}
