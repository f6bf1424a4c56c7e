/**
 * What the file of gathered light says of itself.
 * A file belongs to one look, camera and frame. The records behind the header have a fixed length, so that
 * the file's length must follow from their number: one that was cut is gathered anew.
 */
import { BOUNDS } from "./bounds";
import { checker, objectOf } from "./validate";

/** Stands in the header of every file of gathered light; a reader refuses any other. */
export const GATHERED_LIGHT_FORMAT = "plain-tally-gathered-light/1";

export interface GatheredLightHeader {
  readonly format: typeof GATHERED_LIGHT_FORMAT;
  /**
   * Look fingerprint of the beauty that it is for: scene, everything it uses, camera, size, time, renderer.
   */
  readonly look: string;
  readonly camera: string;
  /** On the time line of the scene: every n-th is gathered, those between are mixed. */
  readonly frame: number;
  /** Name of the node that gathered it, for the log. */
  readonly node: string;
  /** Points that were gathered; of another renderer's file, which only it can read, 0. */
  readonly records: number;
  /** Length of another renderer's file; left out: records of our own follow. */
  readonly bytes?: number;
}

const text = { type: "string", maxLength: 200 } as const;
/** The header as it is read back. The number of records is bounded here: memory is taken by it. */
export const checkGatheredLightHeader = checker<GatheredLightHeader>(
  objectOf<GatheredLightHeader>(
    {
      format: { const: GATHERED_LIGHT_FORMAT },
      look: text,
      camera: text,
      frame: { type: "integer" },
      node: text,
      records: { type: "integer", minimum: 0, maximum: 1_000_000 },
      bytes: { type: "integer", minimum: 0, maximum: BOUNDS.uploadBytes },
    },
    ["format", "look", "camera", "frame", "node", "records"],
  ),
);
