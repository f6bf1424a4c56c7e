import fs from "node:fs";
import path from "node:path";
import { HANDOVER_EVENTS, HANDOVER_STATES, nextHandoverState } from "./handover-life";

test("the drawing is the table, state by state and event by event", () => {
  const text = fs.readFileSync(path.join(__dirname, "handover-life.ts"), "utf8");
  const drawn = [...text.matchAll(/^ \*     (\w+)\s+\|\s+(.+)$/gm)].map(
    ([, state, cells]) => [state!, cells!.trim().split(/\s+/)] as const,
  );
  expect(drawn[0]).toEqual(["state", [...HANDOVER_EVENTS]]);
  expect(drawn.slice(1).map(([state]) => state)).toEqual([...HANDOVER_STATES]);
  for (const [state, cells] of drawn.slice(1))
    HANDOVER_EVENTS.forEach((event, i) =>
      expect([state, event, nextHandoverState(state as never, event) ?? "."]).toEqual([
        state,
        event,
        cells[i],
      ]),
    );
});
