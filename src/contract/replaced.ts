/** What somebody says of files that replaced others: they are good, or the ones before come back. */
import { BOUNDS } from "./bounds";
import { checker, objectOf } from "./validate";

export const REPLACED_DECISIONS = ["accept", "undo"] as const;
export type ReplacedDecision = (typeof REPLACED_DECISIONS)[number];

export interface ReplacedBody {
  readonly decision: ReplacedDecision;
  /** Frames; those that nothing was replaced of are left out. */
  readonly phrase: string;
}
export const checkReplaced = checker<ReplacedBody>(
  objectOf<ReplacedBody>({
    decision: { enum: REPLACED_DECISIONS },
    phrase: { type: "string", minLength: 1, maxLength: BOUNDS.phrase },
  }),
);
