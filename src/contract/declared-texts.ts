/** Schemas of texts that stand in the configuration. */
import { BOUNDS } from "./bounds";

/** A program, an argument, a path. */
export const line = { type: "string", minLength: 1, maxLength: BOUNDS.configurationLine } as const;
/** Arguments of a call. */
export const template = {
  type: "array",
  items: line,
  minItems: 1,
  maxItems: BOUNDS.configurationLines,
} as const;
