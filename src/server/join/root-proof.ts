/** By which a machine proves that a folder of its own is a root of the house: a file of its invitation is there, as it was written. */
import fs from "node:fs";
import path from "node:path";
import { TallyError } from "../errors";
import { sha256 } from "../files/content";

/** Beside the projects, and with a name that no project has. */
const PLACE = ".plain-tally";

/** Where the file of an invitation lies in a root. */
export const rootProofFile = (folder: string, node: string): string =>
  path.join(folder, PLACE, `invitation-${node}`);

/** Of a proof, which is a short text. */
const MOST_BYTES = 1_000;

/**
 * Reads the file and writes one beside it.
 * @param hash of what was put there
 * @throws TallyError `join-root-unseen`
 */
export function proveSameRoot(root: string, folder: string, node: string, hash: string): void {
  const no = (why: string, cause?: unknown): never => {
    throw new TallyError("join-root-unseen", { root, folder, why }).because(cause);
  };
  const file = rootProofFile(folder, node);
  let found = "";
  try {
    if (fs.statSync(file).size > MOST_BYTES) no("the file of the invitation is another there");
    found = sha256(fs.readFileSync(file));
  } catch (error) {
    if (error instanceof TallyError) throw error;
    no(`the file of the invitation is not there (${(error as NodeJS.ErrnoException).code})`, error);
  }
  if (found !== hash) no("the file of the invitation is another there");
  const own = `${file}.part`;
  try {
    fs.writeFileSync(own, "");
    fs.rmSync(own);
  } catch (error) {
    no(`nothing can be written there (${(error as NodeJS.ErrnoException).code})`, error);
  }
}
