/** Odd ones of a sequence as a page shows them, and what people say of them. */
import type { FindingPlace } from "./sequence-view";
import { JUDGEMENTS, type JudgedOdd, type Judgement } from "@/core/odd/judged";
import { ODD_CODES, type OddCode, THRESHOLD_BOUNDS, type Thresholds } from "@/core/odd/odd";
import { BOUNDS } from "./bounds";
import { checker, objectOf } from "./validate";

export interface OddLine extends Omit<JudgedOdd, "region"> {
  /** Where in the picture; null: all of it. */
  readonly place: FindingPlace | null;
}

export interface OddView {
  /** By frame. */
  readonly odd: readonly OddLine[];
  readonly thresholds: Thresholds;
  /** As this house ships them. */
  readonly areUsual: boolean;
  /** Files of which everything is known that can be. */
  readonly measured: number;
  /** Of these, kinds that are not shown. */
  readonly unshown: number;
  /** Files that a node has still to measure. */
  readonly waiting: number;
  /** Nodes that are awake: none of them, none is measured. */
  readonly nodesAwake: number;
}

const figure = (key: keyof Thresholds) => {
  const [minimum, maximum] = THRESHOLD_BOUNDS[key];
  return { type: "number", minimum, maximum } as const;
};
/** All of them: as a person says, and as they were kept, since a record beside the frames may have been changed by anybody. */
export const checkThresholds = checker<Thresholds>(
  objectOf<Thresholds>({
    change: figure("change"),
    leastChange: figure("leastChange"),
    frozen: figure("frozen"),
    deviations: figure("deviations"),
    hot: { ...figure("hot"), type: "integer" },
    seconds: figure("seconds"),
  }),
);

/** More at once are judged in several calls. */
const MOST_JUDGED = 5_000;

export interface JudgeBody {
  readonly judgement: Judgement;
  readonly of: readonly { readonly frame: number; readonly code: OddCode }[];
  /** Why they are no faults; of use where they are dismissed. */
  readonly why?: string;
}
export const checkJudge = checker<JudgeBody>(
  objectOf<JudgeBody>(
    {
      judgement: { enum: JUDGEMENTS },
      of: {
        type: "array",
        minItems: 1,
        maxItems: MOST_JUDGED,
        items: objectOf<JudgeBody["of"][number]>({ frame: { type: "integer" }, code: { enum: ODD_CODES } }),
      },
      why: { type: "string", minLength: 1, maxLength: BOUNDS.reason, pattern: "\\S" },
    },
    ["judgement", "of"],
  ),
);
