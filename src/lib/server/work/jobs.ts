/** What is done off the main thread, so that other requests need not wait for it: what is asked, and what comes back. */
import { framePlaces, type FramePlaces } from '../frames/markup.ts';
import { pastedFiles, type Examined } from '../ingest/specimen.ts';
import { examineStaged, stage, type Staged, type StagedFile, type StageInput } from '../ingest/staging.ts';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';

interface Pasted {
  html: string;
  css: string;
  /** For what becomes of them. */
  folder: string;
}

export interface Jobs {
  stage: { input: StageInput; output: Staged };
  paste: { input: Pasted; output: Staged };
  examine: { input: { files: StagedFile[]; name: string }; output: Examined };
  frame: { input: { html: string }; output: FramePlaces };
}
export type JobName = keyof Jobs;
export type JobInput<N extends JobName> = Jobs[N]['input'];
export type JobOutput<N extends JobName> = Jobs[N]['output'];

export const JOBS: { [N in JobName]: (input: JobInput<N>) => Promise<JobOutput<N>> } = {
  /** Unpacks and checks an upload. */
  stage,
  /** The same for HTML and CSS as typed or pasted. */
  paste: async ({ html, css, folder }) => {
    const sent = [];
    for (const { path, bytes } of pastedFiles(html, css)) {
      const file = join(folder, path);
      await writeFile(file, bytes);
      sent.push({ path, file });
    }
    return stage({ sent, folder, over: null });
  },
  /** What the files of a folder come to. */
  examine: ({ files, name }) => examineStaged(files, name),
  /** Where a page gets what its frame needs. */
  frame: ({ html }) => Promise.resolve(framePlaces(html)),
};

export interface JobRequest {
  id: number;
  name: JobName;
  input: unknown;
}

export type JobReply =
  | { id: number; output: unknown }
  | { id: number; refusal: { message: string; status: number } }
  | { id: number; error: string };
