/** Files as a user hands them over: chosen, dropped, or in a folder. */
import { idSchema, send } from '../send.ts';

export interface Brought {
  path: string;
  file: File;
}

export const fromInput = (files: FileList): Brought[] =>
  Array.from(files, (file) => ({ path: file.webkitRelativePath || file.name, file }));

/** Everything in a drop, folders walked through. */
export async function fromDrop(transfer: DataTransfer): Promise<Brought[]> {
  const entries = Array.from(transfer.items, (item) =>
    item.kind === 'file' ? item.webkitGetAsEntry() : null,
  ).filter((entry) => entry !== null);
  if (entries.length === 0) return fromInput(transfer.files);
  const out: Brought[] = [];
  const walk = async (entry: FileSystemEntry): Promise<void> => {
    if (entry.isFile) {
      const file = await new Promise<File>((resolve, reject) =>
        (entry as FileSystemFileEntry).file(resolve, reject),
      );
      out.push({ path: entry.fullPath.replace(/^\//, ''), file });
      return;
    }
    const reader = (entry as FileSystemDirectoryEntry).createReader();
    for (;;) {
      // A reader gives at most a hundred entries at a time.
      const batch = await new Promise<FileSystemEntry[]>((resolve, reject) =>
        reader.readEntries(resolve, reject),
      );
      if (batch.length === 0) return;
      for (const fileSystemEntry of batch) await walk(fileSystemEntry);
    }
  };
  for (const entry of entries) await walk(entry);
  return out;
}

export function formOf(brought: Brought[]): FormData {
  const form = new FormData();
  for (const { path, file } of brought) {
    form.append('files', file, file.name);
    form.append('paths', path);
  }
  return form;
}

/** Makes a specimen of files; its id. */
export const bringFiles = (brought: Brought[], signal: AbortSignal): Promise<{ id: string }> =>
  send('POST', '/api/specimens', idSchema, formOf(brought), signal);

export const bringPasted = (html: string, css: string): Promise<{ id: string }> =>
  send('POST', '/api/specimens', idSchema, { html, css });
