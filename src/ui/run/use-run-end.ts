"use client";
/**
 * Tells, outside the page, that a run has ended which this page saw going on. The browser asks once whether
 * it may.
 * Only runs that this page saw going on: whoever opens a page later reads what came of a run on the page
 * itself.
 */
import { useEffect, useRef, useState } from "react";
import { runEndText } from "./words";
import { goesOn } from "@/core/run/run-life";
import type { RunView } from "@/contract/run-view";

const canTell = (): boolean => typeof Notification !== "undefined" && Notification.permission === "granted";

/** @param shot named in the message: many pages may be open */
export function useRunEnd(shot: string, runs: readonly RunView[]): void {
  const going = useRef<ReadonlySet<number>>(new Set());
  useEffect(() => {
    for (const run of runs)
      if (going.current.has(run.id) && !goesOn(run.state) && canTell())
        new Notification(`${shot}: run ${run.id}`, {
          body: runEndText(run),
          tag: `plain-tally-run-${run.id}`,
        });
    going.current = new Set(runs.filter((r) => goesOn(r.state)).map((r) => r.id));
  }, [shot, runs]);
}

/** Whether the browser can still be asked; asks it. */
export function useMayTell(): { readonly canAsk: boolean; readonly ask: () => void } {
  const [canAsk, setCanAsk] = useState(false);
  useEffect(
    () => setCanAsk(typeof Notification !== "undefined" && Notification.permission === "default"),
    [],
  );
  return {
    canAsk,
    ask: () => void Notification.requestPermission().then((answer) => setCanAsk(answer === "default")),
  };
}
