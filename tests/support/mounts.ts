/**
 * Small disks and held files, by mounts of this process's own. Where mounting is not allowed the tests that
 * need it say so and are skipped.
 */
import { execFileSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";

const run = (...args: readonly [string, ...string[]]): void =>
  void execFileSync(args[0], args.slice(1), { stdio: "pipe" });

function tryMounting(): boolean {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "plain-tally-mount-"));
  try {
    run("mount", "-t", "tmpfs", "-o", "size=64k", "tmpfs", folder);
    run("umount", folder);
    return true;
  } catch (error) {
    process.stderr.write(
      `Tests with disks of their own are skipped: mounting is not allowed here (${String((error as { stderr?: Buffer }).stderr ?? error).trim()})\n`,
    );
    return false;
  } finally {
    fs.rmdirSync(folder);
  }
}

export const canMount = tryMounting();

export interface Disk {
  /** Leaves so many bytes. Asked again, it takes what was freed meanwhile. */
  readonly fill: (leaveBytes: number) => void;
  readonly empty: () => void;
  readonly setReadOnly: (on: boolean) => void;
  /** Takes the disk away, as a share that is not there any more: what is below is empty. */
  readonly detach: () => void;
  readonly attach: () => void;
  readonly remove: () => void;
}

/** Written at once: little enough that what is free does not change much meanwhile. */
const PIECE_BYTES = 8_000_000;

/** Puts a small disk of its own in the place of a folder, with what is in it. */
export function mountDisk(folder: string, bytes: number): Disk {
  const holder = fs.mkdtempSync(path.join(os.tmpdir(), "plain-tally-disk-"));
  run("mount", "-t", "tmpfs", "-o", `size=${bytes}`, "tmpfs", holder);
  try {
    run("cp", "-a", `${folder}/.`, holder);
  } catch (error) {
    run("umount", holder);
    throw error;
  }
  // As below a share: without it nothing is there.
  for (const name of fs.readdirSync(folder)) fs.rmSync(path.join(folder, name), { recursive: true });
  const attach = (): void => run("mount", "--bind", holder, folder);
  const detach = (): void => run("umount", "-l", folder);
  attach();
  const filler = path.join(holder, ".filler");
  return {
    fill: (leave) => {
      for (;;) {
        const { bavail, bsize } = fs.statfsSync(holder);
        const room = bavail * bsize - leave;
        if (room <= 0) return;
        try {
          fs.appendFileSync(filler, new Uint8Array(Math.min(room, PIECE_BYTES)));
        } catch (error) {
          // Somebody else took room in between: what is left now is looked at again.
          if ((error as NodeJS.ErrnoException).code !== "ENOSPC") throw error;
        }
      }
    },
    empty: () => fs.rmSync(filler, { force: true }),
    setReadOnly: (on) => run("mount", "-o", `remount,${on ? "ro" : "rw"}`, holder),
    attach,
    detach,
    remove: () => {
      try {
        detach();
      } catch {
        // It was taken away already.
      }
      run("umount", "-l", holder);
      fs.rmdirSync(holder);
    },
  };
}

/** A file that cannot be replaced as long as it is held. @returns lets go of it */
export function holdFile(file: string): () => void {
  run("mount", "--bind", file, file);
  return () => run("umount", file);
}
