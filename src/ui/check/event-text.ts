/** What happened to a frame, a sentence each. */
import type { FrameEvent } from "@/contract/frame-history";
import { duration } from "../words";
import { SOURCE_WORD } from "./words";

const OUTCOME: Readonly<Record<Extract<FrameEvent, { kind: "attempt" }>["outcome"], string>> = {
  running: "is at it",
  done: "made it",
  failed: "failed",
  lost: "lost its lease",
  stopped: "gave it back",
};

export function eventText(event: FrameEvent): string {
  switch (event.kind) {
    case "attempt": {
      const { node, run, outcome, seconds, message } = event;
      const took = seconds === null ? "" : ` after ${duration(seconds)}`;
      return `${node} ${OUTCOME[outcome]}${took}, run ${run}${message === null ? "" : `: ${message}`}`;
    }
    case "found":
      return `${event.who === null ? SOURCE_WORD[event.source] : `flagged by ${event.who}`}: ${event.text}`;
    case "closed": {
      const { state, who, text, why } = event;
      const what = state === "fixed" ? "mended" : `taken back${who === null ? "" : ` by ${who}`}`;
      return `${what}: ${text}${why === null ? "" : `; no fault: ${why}`}`;
    }
    case "replaced":
      return `replaced; the file before is kept as ${event.file}${event.isAccepted ? ", and its successor accepted" : ""}`;
  }
}
