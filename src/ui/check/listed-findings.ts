/** Findings as a list shows them: of one kind or of all, in an order. */
import type { FindingView } from "@/contract/sequence-view";

export type FindingOrder = "frame" | "newest";

/** What was found, however it is told: each frame's words are its own. */
export const kindsOf = (findings: readonly FindingView[]): readonly string[] =>
  [...new Set(findings.map(({ code }) => code))].sort();

/** @param kind a code, or all @param order by frame; or those that were found last, first */
export const listedFindings = (
  findings: readonly FindingView[],
  kind: string,
  order: FindingOrder,
): readonly FindingView[] =>
  findings
    .filter(({ code }) => kind === "all" || code === kind)
    .toSorted((a, b) => (order === "newest" ? b.createdAt - a.createdAt : 0) || a.frame - b.frame);
