/** What the file of a lighting cache says of itself. */
import { checker } from "./validate";

export const LIGHTING_FORMAT = "plain-tally-lighting/1";

export interface LightingHeader {
  readonly format: typeof LIGHTING_FORMAT;
  /** Look fingerprint of the beauty that it is for: scene, everything it uses, camera, size, time, renderer. */
  readonly look: string;
  readonly camera: string;
  readonly frame: number;
  readonly node: string;
  /** Points that were gathered. */
  readonly records: number;
}

const text = { type: "string", maxLength: 200 } as const;
export const checkLightingHeader = checker<LightingHeader>({
  type: "object",
  required: ["format", "look", "camera", "frame", "node", "records"],
  additionalProperties: false,
  properties: {
    format: { const: LIGHTING_FORMAT },
    look: text,
    camera: text,
    frame: { type: "integer" },
    node: text,
    records: { type: "integer", minimum: 0, maximum: 1_000_000 },
  },
});
