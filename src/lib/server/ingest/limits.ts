/** What one specimen may have, and what one upload may bring, archives in it unpacked. */
import { Refusal } from './refusal.ts';

export const MAX_FILES = 5000;
export const MAX_BYTES = 200 * 1024 * 1024;
/** An HTML file or a style sheet that is to be read as text. */
export const MAX_TEXT_BYTES = 64 * 1024 * 1024;
/** A script above this is not read for what it would touch. */
export const MAX_SCRIPT_BYTES = 2_000_000;
export const megabytes = (bytes: number): string => `${Math.round((bytes / 1024 / 1024) * 10) / 10} MB`;

const ADVICE = 'Leave out what the pages do not need.';

export interface Tally {
  /** Counts one file of `bytes`. Throws a Refusal where all files together are too many or too large. */
  add: (bytes: number) => void;
}

/** Counts what comes in at once, whatever archives it is in. */
export function makeTally(): Tally {
  let [files, total] = [0, 0];
  return {
    add: (bytes) => {
      files += 1;
      total += bytes;
      if (files > MAX_FILES)
        throw new Refusal(
          `There are more than the ${MAX_FILES} files that a specimen may have. ${ADVICE}`,
          413,
        );
      if (total > MAX_BYTES)
        throw new Refusal(
          `The files are more than the ${megabytes(MAX_BYTES)} that a specimen may have. ${ADVICE}`,
          413,
        );
    },
  };
}
