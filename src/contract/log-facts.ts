/** What a log of another program says of frames, on its way to the server: the log itself stays where it was read. */
import { BOUNDS } from "./bounds";
import { checker, objectOf } from "./validate";

export interface LogFactsBody {
  readonly frames: readonly {
    readonly frame: number;
    readonly node: string | null;
    readonly seconds: number | null;
    readonly message: string | null;
  }[];
}

const text = (longest: number): object => ({
  anyOf: [{ type: "string", minLength: 1, maxLength: longest }, { type: "null" }],
});

export const checkLogFacts = checker<LogFactsBody>(
  objectOf<LogFactsBody>({
    frames: {
      type: "array",
      minItems: 1,
      maxItems: BOUNDS.planFrames,
      items: objectOf<LogFactsBody["frames"][number]>({
        frame: { type: "integer", minimum: -BOUNDS.frame, maximum: BOUNDS.frame },
        node: text(BOUNDS.nodeName),
        seconds: { anyOf: [{ type: "number", minimum: 0, maximum: BOUNDS.seconds }, { type: "null" }] },
        message: text(BOUNDS.reason),
      }),
    },
  }),
);

export interface NotedLog {
  /** Files that something was filled in of. */
  readonly noted: number;
  /** Frames of the log that have no file here, as a phrase. */
  readonly notHere: string;
}
