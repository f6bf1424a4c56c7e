import fs from "node:fs";
import path from "node:path";
import { goesOn, nextRunState, RUN_EVENTS, RUN_STATES } from "./run-life";
import { nextTaskState, statesBeforeTask, TASK_EVENTS, TASK_STATES } from "./task-life";

/** The table in the comment on top of a module: every state with every event. */
function drawn(file: string): { readonly events: string[]; readonly rows: Map<string, string[]> } {
  const text = fs.readFileSync(path.join(__dirname, file), "utf8");
  const lines = [...text.matchAll(/^ \* {5}(\S+) *\| (.+)$/gm)];
  const [head, ...rows] = lines.map(([, name, rest]) => [name!, rest!.trim().split(/\s+/)] as const);
  return { events: head![1], rows: new Map(rows) };
}

const LIVES = [
  ["task-life.ts", TASK_STATES, TASK_EVENTS, nextTaskState],
  ["run-life.ts", RUN_STATES, RUN_EVENTS, nextRunState],
] as const;

describe.each(LIVES)("%s", (file, states, events, next) => {
  const table = drawn(file);

  test("the table on top names every state and every event", () => {
    expect([...table.rows.keys()]).toEqual([...states]);
    expect(table.events).toEqual([...events]);
  });

  test.each(states.flatMap((state) => events.map((event) => [state, event] as const)))(
    "%s, %s: as drawn",
    (state, event) => {
      const cell = table.rows.get(state)![table.events.indexOf(event)];
      expect((next as (s: string, e: string) => string | null)(state, event)).toBe(
        cell === "." ? null : cell,
      );
    },
  );
});

test("SQL repeats the states that an event may meet", () => {
  expect(statesBeforeTask("finish")).toEqual(["leased"]);
  expect(statesBeforeTask("drop")).toEqual(["waiting", "failed"]);
  expect(statesBeforeTask("lease")).toEqual(["waiting", "leased"]);
});

test("whoever goes on can be stopped, or is stopping already", () => {
  for (const state of RUN_STATES) expect(goesOn(state)).toBe(nextRunState(state, "nothing-left") !== null);
});
