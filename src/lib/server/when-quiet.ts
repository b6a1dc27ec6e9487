/** Runs something once a burst of events is over. */

export interface Quiet {
  /** Something has happened. */
  stir: () => void;
  stop: () => void;
}

/** `run` is called `quiet` ms after the last stir, and `longest` ms after the first where they do not end. */
export function whenQuiet(quiet: number, longest: number, run: () => void): Quiet {
  let timer: NodeJS.Timeout | undefined;
  let first = 0;
  const stop = (): void => {
    clearTimeout(timer);
    first = 0;
  };
  return {
    stop,
    stir: () => {
      const now = Date.now();
      first ||= now;
      clearTimeout(timer);
      timer = setTimeout(
        () => {
          stop();
          run();
        },
        Math.max(0, Math.min(quiet, first + longest - now)),
      );
    },
  };
}
