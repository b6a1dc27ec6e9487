/** What is under way, on one line of a terminal that is overwritten and gone in the end; nowhere else. */
export interface Progress {
  tell: ((words: string) => void) | null;
  end: () => void;
}

export function showProgress(to: Pick<NodeJS.WriteStream, 'isTTY' | 'write'> = process.stderr): Progress {
  if (!to.isTTY) return { tell: null, end: () => undefined };
  return {
    tell: (words) => void to.write(`\r${words}\x1b[K`),
    end: () => void to.write('\r\x1b[K'),
  };
}
