/**
 * One process to a data folder: two would destroy it. The lock says whose it is by process, start time and boot of the machine,
 * so that a killed owner's lock is taken over, whatever program has its number now.
 */
import { execFileSync } from 'node:child_process';
import { linkSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { z } from 'zod';

const ownerSchema = z.object({ pid: z.number().int(), started: z.string(), boot: z.string() });
type Owner = z.infer<typeof ownerSchema>;

const LOCK = 'in-use.json';
/** Locks of versions before 0.19, which named the process alone. */
const FORMER = 'in-use-by-';

const read = (file: string): string | null => {
  try {
    return readFileSync(file, 'utf8');
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null;
    throw error;
  }
};

/** When a process began, in whatever the machine counts it in; null: there is no such process. */
function startOf(pid: number): string | null {
  const stat = read(`/proc/${pid}/stat`);
  // The 22nd field; the second may hold spaces and brackets (proc(5)).
  if (stat !== null) return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19] ?? null;
  if (process.platform === 'linux') return null;
  try {
    return execFileSync('ps', ['-o', 'lstart=', '-p', String(pid)], { encoding: 'utf8' }).trim() || null;
  } catch (error) {
    // ps ends with 1 where there is no such process.
    if ((error as { status?: number }).status === 1) return null;
    throw error;
  }
}

const self = (): Owner => ({
  pid: process.pid,
  started: startOf(process.pid) ?? '',
  boot: read('/proc/sys/kernel/random/boot_id')?.trim() ?? '',
});

/** Null: the lock says nothing that could be understood, as where its writer was stopped by the machine. */
function ownerOf(text: string): Owner | null {
  try {
    return ownerSchema.parse(JSON.parse(text));
  } catch (error) {
    if (error instanceof SyntaxError || error instanceof z.ZodError) return null;
    throw error;
  }
}

const isAlive = (owner: Owner, boot: string): boolean =>
  owner.boot === boot && startOf(owner.pid) === owner.started;

export class InUse extends Error {
  override name = 'InUse';
}

/** Takes the lock of a folder; the answer gives it back. Throws InUse where another process that is alive has it. */
export function lockFolder(folder: string): () => void {
  const file = join(folder, LOCK);
  const ownHolder = self();
  const mine = JSON.stringify(ownHolder);
  const beside = join(folder, `${LOCK}.${ownHolder.pid}`);
  // Written beside and linked: a lock that can be seen is whole.
  writeFileSync(beside, mine);
  try {
    for (;;) {
      try {
        linkSync(beside, file);
        return () => {
          if (read(file) === mine) rmSync(file, { force: true });
        };
      } catch (error) {
        if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
      }
      const text = read(file);
      if (text === null) continue;
      const owner = ownerOf(text);
      if (owner && isAlive(owner, ownHolder.boot))
        throw new InUse(
          `The data folder ${folder} is in use by process ${owner.pid}. Stop that one, or choose another folder with --data.`,
        );
      takeAway(file, text, beside);
    }
  } finally {
    rmSync(beside, { force: true });
  }
}

/** Takes away a lock whose owner is gone, unless another process has taken it over meanwhile. */
function takeAway(file: string, text: string, beside: string): void {
  const away = `${beside}.old`;
  try {
    renameSync(file, away);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return;
    throw error;
  }
  try {
    // Another process was faster: its lock goes back.
    if (read(away) !== text) linkSync(away, file);
  } catch (error) {
    // A third one has taken the lock meanwhile: whoever asks again meets it.
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
  } finally {
    rmSync(away, { force: true });
  }
}

/** A former version's lock names a process alone; one that runs Normetra is believed. */
export function refuseFormerOwner(folder: string, names: readonly string[]): void {
  for (const name of names.filter((entry) => entry.startsWith(FORMER))) {
    const pid = Number(name.slice(FORMER.length));
    const command = read(`/proc/${pid}/cmdline`) ?? '';
    if (/normetra|src\/cli\/main\.ts/.test(command) && pid !== process.pid)
      throw new InUse(
        `The data folder ${folder} is in use by process ${pid}. Stop that one, or choose another folder with --data.`,
      );
    rmSync(join(folder, name), { force: true });
  }
}
