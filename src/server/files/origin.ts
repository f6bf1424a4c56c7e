/**
 * Who made a file, as the file itself says in its format's own metadata.
 * Said by the file, so that it can be proved by the file alone: a copy that was brought in from elsewhere
 * knows what it is.
 */
import { readImageTexts } from "@/core/image/check-file";

/** Keyword of the text in a file that says who made it. */
export const FILE_TEXT = "PlainTally";

/** Null for each thing that a file does not say. */
export interface FileOrigin {
  /** Fingerprint. */
  readonly look: string | null;
  readonly effort: string | null;
  readonly samples: number | null;
  /** Number of the attempt that wrote it. */
  readonly attempt: number | null;
  readonly node: string | null;
}

/** What files of other programs say. */
const NO_ORIGIN: FileOrigin = { look: null, effort: null, samples: null, attempt: null, node: null };

/** Who made a file, by its own word; foreign files say nothing. */
export function originOf(bytes: Uint8Array): FileOrigin {
  const text = readImageTexts(bytes).get(FILE_TEXT);
  if (text === undefined) return NO_ORIGIN;
  try {
    const value = JSON.parse(text) as Record<string, unknown>;
    const string = (key: string): string | null =>
      typeof value[key] === "string" ? (value[key] as string) : null;
    const number = (key: string): number | null =>
      Number.isInteger(value[key]) ? (value[key] as number) : null;
    return {
      look: string("look"),
      effort: string("effort"),
      samples: number("samples"),
      attempt: number("attempt"),
      node: string("node"),
    };
  } catch {
    return NO_ORIGIN;
  }
}
