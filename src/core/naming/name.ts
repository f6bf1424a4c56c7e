/**
 * Names that we give: of projects, shots, cameras, markers, nodes, presets, machines. They become parts of
 * paths, addresses and files, on systems that differ in what they bear; so they are judged in one way,
 * wherever they come from. Paths that were found on disk are no names: they stay what they are, byte for byte.
 */

/** Signs; a name becomes a part of file names, which have 255 bytes on most systems. */
export const LONGEST_NAME = 100;

/** Separators of any system, and what no name is written with: control signs, and signs that turn text around. */
const FORBIDDEN = /[/\\\p{Cc}\p{Zl}\p{Zp}\u200e\u200f\u202a-\u202e\u2066-\u2069]/u;
/** Half of a sign: no text at all, and refused by databases and file systems. */
const BROKEN = /\p{Surrogate}/u;

/** Whether a text is whole: without half signs and without the sign that ends texts elsewhere. */
export const isText = (text: string): boolean => !BROKEN.test(text) && !text.includes("\0");

/** Characters of a person's name, as people give it themselves. */
export const LONGEST_PERSON = 80;

/** Characters of a name of a node or a machine: it becomes the name of a file, and is typed on command lines. */
export const LONGEST_MACHINE = 63;
/** Such a name as a regular expression. */
export const MACHINE_NAME = `^[A-Za-z0-9][A-Za-z0-9_-]{0,${LONGEST_MACHINE - 1}}$`;
/** Whether a node or a machine may be called so. */
export const isMachineName = (name: string): boolean => new RegExp(MACHINE_NAME).test(name);

/** What is wrong with a name, as the end of a sentence that begins with what is named; null for a good one. */
export function nameFault(name: string, longest = LONGEST_NAME): string | null {
  if (name.trim() === "") return "is blank";
  if (name !== name.trim()) return "begins or ends with a blank";
  if ([...name].length > longest) return `is longer than ${longest} characters`;
  if (!isText(name)) return "holds half a character";
  if (FORBIDDEN.test(name)) return "holds a slash, a backslash or a sign that cannot be seen";
  if (name.startsWith(".") || name.startsWith("-")) return "begins with a dot or a minus";
  if (name.includes("..")) return "holds two dots in a row";
  if (name !== name.normalize("NFC")) return "is written with parts of letters (not in NFC)";
  return null;
}
