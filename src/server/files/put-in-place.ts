/**
 * Putting a whole file in its place: what is there is kept under a second name first, the rename is one step,
 * and the folder is flushed. What takes as long as a share takes, a copy where it knows no hard links, is done
 * before any lock; what is done under one is quick, and waits for nothing.
 *
 *     prepareAside ──(a lock is taken)──► keepAside ──► putInPlace ──(it is given back)──► forgetAside
 */
import fs from "node:fs";
import path from "node:path";
import { asideName, temporaryOf } from "./layout";

/** Of a machine that is not connected: it makes no attempts. */
const NO_ATTEMPT = 0;

/** Enough to tell whether a file is still the one that was looked at. */
const identityOf = (file: string): string | null => {
  const stat = fs.statSync(file, { throwIfNoEntry: false });
  return stat === undefined ? null : `${stat.dev}:${stat.ino}:${stat.size}:${stat.mtimeMs}`;
};

/** A second name, or a copy, of the file that is about to be replaced. */
export interface Aside {
  readonly folder: string;
  /** Part of its name: whoever replaces the file. */
  readonly attempt: number;
  /** Under a temporary name, with what it is of; null where nothing is there to be kept. */
  copy: { readonly temporary: string; readonly identity: string } | null;
}

/** What whoever is gone may have left of a copy. */
export const asideLeftover = (final: string, folder: string, attempt: number): string =>
  temporaryOf(path.join(folder, path.basename(final)), attempt);

/** A second name where the share knows hard links, else a copy. @returns its temporary name */
function secondName(file: string, { folder, attempt }: Aside): string {
  const name = asideLeftover(file, folder, attempt);
  fs.rmSync(name, { force: true });
  try {
    fs.linkSync(file, name);
  } catch {
    fs.copyFileSync(file, name);
  }
  return name;
}

/** @param folder where what is replaced is kept */
export async function prepareAside(final: string, folder: string, attempt: number): Promise<Aside> {
  const aside: Aside = { folder, attempt, copy: null };
  const identity = identityOf(final);
  if (identity === null) return aside;
  await fs.promises.mkdir(folder, { recursive: true });
  aside.copy = { temporary: secondName(final, aside), identity };
  return aside;
}

/** A name that nothing in the folder has: an attempt may have replaced the file before, in another database. */
function freeName(folder: string, file: string, attempt: number): string {
  for (let again = 1; ; again++) {
    const name = path.join(folder, asideName(file, attempt, again));
    if (!fs.existsSync(name)) return name;
  }
}

/**
 * Gives what is there its name aside. Never replaces an older one.
 * @returns where it is kept; null where nothing is replaced
 */
export function keepAside(aside: Aside, final: string): string | null {
  const identity = identityOf(final);
  if (identity === null) return null;
  if (aside.copy?.identity !== identity) {
    // Somebody has put another file there since: rare, and then the lock is held for as long as a copy takes.
    fs.mkdirSync(aside.folder, { recursive: true });
    aside.copy = { temporary: secondName(final, aside), identity };
  }
  const kept = freeName(aside.folder, path.basename(final), aside.attempt);
  fs.renameSync(aside.copy.temporary, kept);
  aside.copy = null;
  return kept;
}

/** Removes what was prepared and not needed. */
export async function forgetAside({ copy }: Aside): Promise<void> {
  if (copy !== null) await fs.promises.rm(copy.temporary, { force: true });
}

/** A rename is safe from a power cut only when its folder is on the disk. */
export function syncFolder(folder: string): void {
  const handle = fs.openSync(folder, "r");
  try {
    fs.fsyncSync(handle);
  } finally {
    fs.closeSync(handle);
  }
}

/** One step: the file is there whole, or not at all. Replaces what is there. */
export function putInPlace(temporary: string, final: string): void {
  fs.renameSync(temporary, final);
  syncFolder(path.dirname(final));
}

/** Where nobody else may put a file there, and no lock is needed: what is there is kept aside. */
export async function placeReplacing(temporary: string, final: string, folder: string): Promise<void> {
  const aside = await prepareAside(final, folder, NO_ATTEMPT);
  keepAside(aside, final);
  putInPlace(temporary, final);
}

/** The same where nothing may be replaced. @returns false where something is there; then nothing is changed */
export function putInFreePlace(temporary: string, final: string): boolean {
  try {
    fs.linkSync(temporary, final);
    fs.rmSync(temporary);
  } catch (error) {
    // A share without hard links has no step that is one: between the two nothing waits.
    if ((error as NodeJS.ErrnoException).code === "EEXIST" || fs.existsSync(final)) return false;
    fs.renameSync(temporary, final);
  }
  syncFolder(path.dirname(final));
  return true;
}
