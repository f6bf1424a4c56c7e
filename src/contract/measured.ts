/** What is kept of a measured picture beside its sketch: another program may have changed it. */
import type { MeasuredPicture, Measures } from "@/core/image/measure-picture";
import { checker, objectOf } from "./validate";

export type MeasuredFacts = Omit<MeasuredPicture, "sketch">;

const figure = { type: "number" } as const;
const whole = { type: "integer", minimum: 1 } as const;
export const checkMeasured = checker<MeasuredFacts>(
  objectOf<MeasuredFacts>({
    width: whole,
    height: whole,
    measures: objectOf<Measures>({
      luminance: figure,
      spread: figure,
      noise: figure,
      black: figure,
      clipped: figure,
      hot: figure,
      nan: figure,
      alpha: { type: ["number", "null"] },
    }),
    hotRegion: { type: ["array", "null"], items: figure, minItems: 4, maxItems: 4 },
    pixels: { type: "string" },
  }),
);
