/** Texts of the Run and Patch benches. */
import type { FrameReason, Policy } from "@/core/plan/what-to-render";

export const POLICY_TEXT: Readonly<Record<Policy, string>> = {
  fill: "Only what is missing or failed",
  mend: "That, and what is flagged or out of date",
  all: "Every frame again, also the good ones",
};

export const RENDER_TEXT: Readonly<Record<FrameReason, string>> = {
  missing: "missing",
  failed: "failed before",
  partial: "begun, not finished",
  flagged: "flagged; the old file is kept aside",
  stale: "made with another look; the old file is kept aside",
  good: "good, rendered again; the old file is kept aside",
  unchecked: "not looked at yet, rendered again",
  "in-a-run": "",
};

export const KEEP_TEXT: Readonly<Record<FrameReason, string>> = {
  good: "good",
  flagged: "flagged, but this choice leaves it",
  stale: "out of date, but this choice leaves it",
  unchecked: "not looked at yet: checked first, then decided",
  "in-a-run": "a run has it already",
  missing: "",
  failed: "",
  partial: "",
};
