/** Which line of a JSON text a fault is in: for files that people write by hand. */
import { findNodeAtLocation, parse, type ParseError, parseTree, printParseErrorCode } from "jsonc-parser";
import type { SchemaFault } from "@/contract/validate";

/** From 1, as editors count. */
const lineAt = (text: string, offset: number): number => text.slice(0, offset).split("\n").length;

/** JSON allows neither comments nor commas at an end. */
const STRICT = { disallowComments: true, allowTrailingComma: false } as const;

/** `CommaExpected` as words. */
const inWords = (code: string): string =>
  code.replace(/[A-Z]/g, (letter, at: number) => `${at === 0 ? "" : " "}${letter.toLowerCase()}`);

/** The first place where a text is no JSON; null where it is. */
export function syntaxFault(text: string): { readonly line: number; readonly message: string } | null {
  const errors: ParseError[] = [];
  parse(text, errors, STRICT);
  const [first] = errors;
  return first === undefined
    ? null
    : {
        line: lineAt(text, first.offset),
        message: `this is not JSON: ${inWords(printParseErrorCode(first.error))}`,
      };
}

/** The line of a fault in a text that is JSON: of the key that is not known, else of the value. */
export function lineOf(text: string, { path, unknownKey }: SchemaFault): number {
  const tree = parseTree(text);
  const keys = path
    .split("/")
    .slice(1)
    .map((key) => (/^\d+$/.test(key) ? Number(key) : key.replaceAll("~1", "/").replaceAll("~0", "~")));
  if (tree === undefined) return 1;
  // What is missing has no place: it is told at the innermost thing that is there.
  for (const at of [...keys.keys(), keys.length].reverse()) {
    const whole = [
      ...keys.slice(0, at),
      ...(at === keys.length && unknownKey !== undefined ? [unknownKey] : []),
    ];
    const node = findNodeAtLocation(tree, whole);
    // Where a value begins lines below its key, the key is what one looks for.
    if (node !== undefined)
      return lineAt(text, node.parent?.type === "property" ? node.parent.offset : node.offset);
  }
  return 1;
}
