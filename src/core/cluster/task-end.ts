/** Why the batch system ended a task before its frame was made: by the state it tells, and by what it wrote into the task's output. */

/** `time`, `memory`, `node`: the limit, the memory, the machine; `preempted`: another job went before; `broke`: it ended in a fault of its own. */
export type TaskEndWhy = "time" | "memory" | "node" | "preempted" | "broke";

const BY_STATE: Readonly<Record<string, TaskEndWhy>> = {
  TIMEOUT: "time",
  DEADLINE: "time",
  OUT_OF_MEMORY: "memory",
  NODE_FAIL: "node",
  BOOT_FAIL: "node",
  PREEMPTED: "preempted",
  FAILED: "broke",
};

/** What slurmstepd writes as the task's last lines. Memory is named first: what is told after it follows from it. */
const BY_WORDS: readonly (readonly [RegExp, TaskEndWhy])[] = [
  [/exceeded (?:job )?memory limit|oom[-_ ]kill/i, "memory"],
  [/DUE TO TIME LIMIT/, "time"],
  [/DUE TO PREEMPTION/, "preempted"],
  [/DUE TO NODE FAILURE/, "node"],
];

/** Null: nothing is told, or a person took it back. @param said the end of its output */
export const endInWords = (said: string): TaskEndWhy | null =>
  BY_WORDS.find(([words]) => words.test(said))?.[1] ?? null;

/** Words go before the state: a task that was killed for its memory may be listed as one that failed. */
export const endOfTask = (state: string, said: string): TaskEndWhy | null =>
  endInWords(said) ?? BY_STATE[state] ?? null;
