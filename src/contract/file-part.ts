/** A file that comes from a page in parts, each with where it belongs. */
import { BOUNDS } from "./bounds";
import { checker, objectOf } from "./validate";

export interface FilePart {
  /** Below the project's `scenes/`, with slashes. */
  readonly name: string;
  /** The same for all parts of one file. */
  readonly upload: string;
  /** Bytes that went before. */
  readonly from: number;
  /** Of the whole file, in bytes. */
  readonly size: number;
  /** Whether another file of that name may be replaced. */
  readonly replaces: boolean;
}

export interface TakenFile {
  /** Relative to the project's folder, as plans name it. */
  readonly path: string;
  readonly bytes: number;
  readonly isReplaced: boolean;
}

/** Bytes of a part: what is lost when one has to be sent again. */
export const PART_BYTES = 4_194_304;

const bytes = { type: "integer", minimum: 0, maximum: Number.MAX_SAFE_INTEGER } as const;

/** As the query of an address has it, with numbers read. */
export const checkFilePart = checker<FilePart>(
  objectOf<FilePart>({
    name: { type: "string", minLength: 1, maxLength: BOUNDS.path },
    upload: { type: "string", pattern: "^[A-Za-z0-9-]{8,64}$" },
    from: bytes,
    size: bytes,
    replaces: { type: "boolean" },
  }),
);
