/**
 * Storage roots as the configuration file declares them. Only somebody at this machine changes them, with the
 * command line or the file itself: no request can.
 */
import fs from "node:fs";
import path from "node:path";
import { type Configuration, rootName } from "@/contract/configuration";
import { BOUNDS } from "@/contract/bounds";
import { configurationFile, declaredRoots, readConfiguration, usualRoots } from "./configuration";
import { TallyError } from "./errors";
import { isInside } from "./files/paths";

const wrong = (field: string, message: string): TallyError =>
  new TallyError("root-wrong", { message }).at(field);

/** The environment would win over what is written, and nothing would come of it. */
function requireFileCounts(): void {
  if (process.env.PLAIN_TALLY_ROOTS !== undefined)
    throw wrong(
      "name",
      "PLAIN_TALLY_ROOTS is set and goes before the configuration file: change it there, or unset it.",
    );
}

/** Whole or not at all: nodes and server read it at any moment. */
function writeConfiguration(configuration: Configuration): void {
  const file = configurationFile();
  const temporary = `${file}.part${process.pid}`;
  fs.mkdirSync(path.dirname(file), { recursive: true });
  fs.writeFileSync(temporary, `${JSON.stringify(configuration, null, 2)}\n`);
  fs.renameSync(temporary, file);
}

/**
 * Declares a folder that is there. The same again changes nothing.
 * @returns its path, links followed
 * @throws TallyError `root-wrong`, with the field
 */
export function addRoot(name: string, folder: string): string {
  requireFileCounts();
  if (!new RegExp(rootName.pattern).test(name) || name.length > BOUNDS.declaredName)
    throw wrong(
      "name",
      `A root's name has small letters, digits and hyphens, begins with a letter, and has ${BOUNDS.declaredName} at most: films.`,
    );
  if (!path.isAbsolute(folder)) throw wrong("folder", `"${folder}" is no whole path; write it from / on.`);
  let real: string;
  try {
    real = fs.realpathSync(folder);
    if (!fs.statSync(real).isDirectory()) throw new Error("it is a file");
    fs.accessSync(real, fs.constants.W_OK);
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException;
    throw wrong("folder", `${folder} cannot be a root (${code ?? message}); make the folder first.`);
  }
  const configuration = readConfiguration();
  // A file that declares none has the usual one: what lies there must not vanish with the first that is added.
  const roots = configuration.roots ?? usualRoots(configuration);
  const known = roots[name];
  if (known === real || known === folder) return known;
  if (known !== undefined)
    throw wrong(
      "name",
      `The root ${name} is ${known} already; choose another name, or change it in ${configurationFile()}.`,
    );
  writeConfiguration({ ...configuration, roots: { ...roots, [name]: real } });
  return real;
}

/** A root that lies in another one, or holds it: what is in both is reached by either, and the inner one counts. */
export function overlappingRoot(
  name: string,
  folder: string,
): { readonly name: string; readonly isOuter: boolean } | null {
  for (const [other, place] of Object.entries(declaredRoots())) {
    if (other === name || place === folder) continue;
    if (isInside(place, folder)) return { name: other, isOuter: true };
    if (isInside(folder, place)) return { name: other, isOuter: false };
  }
  return null;
}

/**
 * Forgets a root; its folder stays as it is.
 * @param usedBy names of the projects that lie on it
 * @throws TallyError `root-wrong`
 */
export function removeRoot(name: string, usedBy: readonly string[]): void {
  requireFileCounts();
  const { [name]: known, ...rest } = declaredRoots();
  if (known === undefined) throw wrong("name", `There is no root ${name}.`);
  if (usedBy.length > 0)
    throw wrong("name", `The root ${name} holds ${usedBy.join(", ")}: remove them from the tally first.`);
  writeConfiguration({ ...readConfiguration(), roots: rest });
}
