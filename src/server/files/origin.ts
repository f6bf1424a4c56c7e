/**
 * Who made a file, as the file itself says in its format's own metadata.
 * Said by the file, so that it can be proved by the file alone: a copy that was brought in from elsewhere
 * knows what it is.
 */
import { MACHINE_NAME } from "@/core/naming/name";
import { readImageTexts } from "@/core/image/check-file";

/** Keyword of the text in a file that says who made it. */
export const FILE_TEXT = "PlainTally";

/** What a file may say, whoever wrote it: what is none of these is not said. */
const FINGERPRINT = /^[0-9a-f]{64}$/;
const NODE = new RegExp(MACHINE_NAME);
const MOST_SAMPLES = 2 ** 32 - 1;

/** Null for each thing that a file does not say. */
export interface FileOrigin {
  /** Fingerprint. */
  readonly look: string | null;
  readonly effort: string | null;
  readonly samples: number | null;
  /** Number of the attempt that wrote it. */
  readonly attempt: number | null;
  readonly node: string | null;
  /** Number of the frame that it was made for. */
  readonly frame: number | null;
}

/** What files of other programs say. */
export const NO_ORIGIN: FileOrigin = {
  look: null,
  effort: null,
  samples: null,
  attempt: null,
  node: null,
  frame: null,
};

/** Who made a file, by its own word; foreign files say nothing. */
export function originOf(bytes: Uint8Array): FileOrigin {
  const text = readImageTexts(bytes).get(FILE_TEXT);
  if (text === undefined) return NO_ORIGIN;
  try {
    const value = JSON.parse(text) as Record<string, unknown>;
    const word = (key: string, shape: RegExp): string | null => {
      const found = value[key];
      return typeof found === "string" && shape.test(found) ? found : null;
    };
    const number = (key: string, largest: number): number | null => {
      const found = value[key];
      return Number.isInteger(found) && (found as number) >= 0 && (found as number) <= largest
        ? (found as number)
        : null;
    };
    return {
      look: word("look", FINGERPRINT),
      effort: word("effort", FINGERPRINT),
      samples: number("samples", MOST_SAMPLES),
      attempt: number("attempt", Number.MAX_SAFE_INTEGER),
      node: word("node", NODE),
      frame: number("frame", Number.MAX_SAFE_INTEGER),
    };
  } catch {
    return NO_ORIGIN;
  }
}
