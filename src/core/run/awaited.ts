/** What a run waits for when it waits for another one to be good. Pure; the words are the page's. */
import { goesOn, type RunState } from "./run-life";

export type AwaitedWhy =
  /** It goes on. */
  | { readonly code: "goes" }
  /** Somebody stopped it with frames left. */
  | { readonly code: "stopped" }
  /** It is done, with frames that were set aside or that have an open finding. */
  | { readonly code: "not-good"; readonly setAside: number; readonly findings: number };

/** @returns null where it is good: what waits for it may begin */
export function whyAwaited(run: {
  readonly state: RunState;
  readonly setAside: number;
  readonly findings: number;
}): AwaitedWhy | null {
  if (goesOn(run.state)) return { code: "goes" };
  if (run.state === "stopped") return { code: "stopped" };
  const { setAside, findings } = run;
  return setAside + findings === 0 ? null : { code: "not-good", setAside, findings };
}
