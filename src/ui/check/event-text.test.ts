import { eventText } from "./event-text";

test.each([
  [
    { kind: "attempt", at: 0, run: 3, node: "quay-1", outcome: "failed", seconds: 90, message: "No room." },
    "quay-1 failed after 1 min 30 s, run 3: No room.",
  ],
  [
    { kind: "attempt", at: 0, run: 3, node: "quay-1", outcome: "running", seconds: null, message: null },
    "quay-1 is at it, run 3",
  ],
  [
    { kind: "found", at: 0, source: "person", who: "Mara", code: "by-hand", text: "a crane jumps" },
    "flagged by Mara: a crane jumps",
  ],
  [
    { kind: "found", at: 0, source: "check", who: null, code: "empty", text: "the file is empty" },
    "found by a check: the file is empty",
  ],
  [
    { kind: "closed", at: 0, who: "Mara", state: "dismissed", text: "It pops.", why: "lightning" },
    "taken back by Mara: It pops.; no fault: lightning",
  ],
  [{ kind: "closed", at: 0, who: null, state: "fixed", text: "cut short", why: null }, "mended: cut short"],
  [
    { kind: "replaced", at: 0, file: "a.before-000003.png", isAccepted: true },
    "replaced; the file before is kept as a.before-000003.png, and its successor accepted",
  ],
] as const)("%#: %s", (event, text) => {
  expect(eventText(event)).toBe(text);
});
