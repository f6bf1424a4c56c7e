/** Picks the check for a file by its name and looks. Formats without a check are said to be so. */
import { checkPng, type PngTools } from "./png-check";
import { hasSignature } from "./png-format";
import { damaged, type FileVerdict, unsupported } from "./verdict";

const EXTENSION = /\.([A-Za-z0-9]+)$/;

export function checkFile(name: string, bytes: Uint8Array, tools: PngTools, deep = false): FileVerdict {
  const extension = EXTENSION.exec(name)?.[1]?.toLowerCase() ?? null;
  if (extension === "png" || hasSignature(bytes)) return checkPng(bytes, tools, deep);
  if (bytes.length === 0) return damaged(extension, "empty", "the file is empty");
  return unsupported(extension, extension === null ? "the name has no ending that tells its format" : `.${extension} files cannot be checked yet`);
}
