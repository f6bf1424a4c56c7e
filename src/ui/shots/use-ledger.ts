"use client";
/** The lines of the ledger with what is looked for and counted in them; one that has not changed stays the one it is. */
import { useMemo, useRef } from "react";
import type { ShotLine } from "@/contract/shot-view";
import { versionName } from "@/core/plan/plan";
import { goesOn } from "@/core/run/run-life";
import type { LedgerShot } from "@/core/tally/ledger";
import { nextStep } from "@/core/tally/next-step";
import { unpackTally } from "@/core/tally/packed";
import { countsOf, type Tally } from "@/core/tally/tally";

export interface LedgerLine extends LedgerShot {
  readonly shot: ShotLine;
  readonly tally: Tally;
}

function lineOf(shot: ShotLine): LedgerLine {
  const tally = unpackTally(shot.tally);
  const counts = countsOf(tally);
  const { run } = shot;
  const isOn = run !== null && goesOn(run.state);
  return {
    code: shot.code,
    title: shot.title,
    version: versionName(shot),
    nodes: shot.nodes,
    counts,
    // The same rule as on the shot's own page: the two never name different steps.
    step: nextStep(counts, isOn, run?.state === "stopped" ? run.left : 0, shot.isWatched),
    likelyFinish: isOn ? run.likelyFinish : null,
    shot,
    tally,
  };
}

/** News change a line at a time: the others are not counted again. */
export function useLedger(shots: readonly ShotLine[]): readonly LedgerLine[] {
  const known = useRef(new WeakMap<ShotLine, LedgerLine>());
  return useMemo(
    () =>
      shots.map((shot) => {
        const line = known.current.get(shot) ?? lineOf(shot);
        known.current.set(shot, line);
        return line;
      }),
    [shots],
  );
}
