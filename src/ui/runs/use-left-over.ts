"use client";
/**
 * Everything that is left, over all shots: what each would render, one preflight of all of them, and one run a
 * shot. Each shot is asked by itself, so that what cannot start keeps none of the others from it, and so that it
 * can be left at any moment.
 */
import pLimit from "p-limit";
import { useRef, useState } from "react";
import type { StartRunBody } from "@/contract/bodies";
import type { PreflightView } from "@/contract/run-view";
import type { ShotLine, ShotsView } from "@/contract/shot-view";
import type { PreflightPoint } from "@/core/run/preflight";
import { framesToRender, type Policy } from "@/core/run/what-to-render";
import { addAll } from "@/core/many";
import { unpackTally } from "@/core/tally/packed";
import { LEDGER_PART } from "../live/lines-wanted";
import { get, messageOf, post, projectApi } from "../live/api";

export interface LeftShot {
  readonly project: string;
  readonly shot: ShotLine;
  /** Frames of the sequence on show in the ledger. */
  readonly frames: number;
  /** What the preflight found; null while it is not looked at. */
  readonly points: readonly PreflightPoint[] | null;
  /** Why it could not be looked at, or not be started. */
  readonly trouble: string | null;
  /** Number of the run that was started. */
  readonly run: number | null;
}

export type LeftPhase = "none" | "looking" | "looked" | "starting" | "started";

/** How the runs shall go. */
export type LeftWish = Pick<StartRunBody, "policy" | "startAt" | "priority">;

/** Nodes hash files for each: more at once would let people wait who click something else. */
const AT_ONCE = 3;

const bodyOf = (wish: LeftWish): StartRunBody => ({
  phrase: "all",
  scope: "version",
  nodes: null,
  ...wish,
});

/** Every line of a ledger, read now: a large one comes in parts. */
async function allLines(project: string, signal: AbortSignal): Promise<readonly ShotLine[]> {
  const api = `${projectApi(project)}/shots`;
  const first = await get<ShotsView>(api, signal);
  const lines = [...first.shots];
  for (let i = 0; i < first.rest.length; i += LEDGER_PART) {
    const only = new URLSearchParams({ only: first.rest.slice(i, i + LEDGER_PART).join(",") });
    addAll(lines, (await get<ShotsView>(`${api}?${only}`, signal)).shots);
  }
  return lines;
}

/** Shots of a project of which the policy would render something. */
async function leftOf(project: string, policy: Policy, signal: AbortSignal): Promise<LeftShot[]> {
  const shots = await allLines(project, signal);
  return shots.flatMap((shot) => {
    const tally = unpackTally(shot.tally);
    const frames = framesToRender(tally, tally.asked, policy).toRender.count;
    // A rough never counts as work to do, and what something else renders is not ours to start.
    return frames === 0 || shot.purpose === "rough" || shot.isWatched
      ? []
      : [{ project, shot, frames, points: null, trouble: null, run: null }];
  });
}

export function useLeftOver() {
  const [phase, setPhase] = useState<LeftPhase>("none");
  const [shots, setShots] = useState<readonly LeftShot[]>([]);
  const [error, setError] = useState<string | null>(null);
  const stop = useRef(new AbortController());

  const put = (of: LeftShot, change: Partial<LeftShot>): void =>
    setShots((all) => all.map((s) => (s.shot.sequenceId === of.shot.sequenceId ? { ...s, ...change } : s)));

  /** Asks each in turn; what was left is asked no more. */
  const each = async (of: readonly LeftShot[], ask: (left: LeftShot) => Promise<void>): Promise<void> => {
    const { signal } = stop.current;
    const few = pLimit(AT_ONCE);
    await Promise.all(
      of.map((left) =>
        few(async () => {
          if (signal.aborted) return;
          await ask(left).catch((thrown: unknown) => {
            if (!signal.aborted) put(left, { trouble: messageOf(thrown) });
          });
        }),
      ),
    );
  };

  return {
    phase,
    shots,
    error,
    async look(projects: readonly string[], wish: LeftWish): Promise<void> {
      stop.current.abort();
      const own = new AbortController();
      stop.current = own;
      setPhase("looking");
      setError(null);
      setShots([]);
      try {
        const found = (
          await Promise.all(projects.map((project) => leftOf(project, wish.policy, own.signal)))
        ).flat();
        if (own.signal.aborted) return;
        setShots(found);
        await each(found, async (left) => {
          const { points } = await post<PreflightView>(
            `/api/sequences/${left.shot.sequenceId}/preflight`,
            bodyOf(wish),
          );
          if (!own.signal.aborted) put(left, { points });
        });
        if (!own.signal.aborted) setPhase("looked");
      } catch (thrown) {
        if (own.signal.aborted) return;
        setError(messageOf(thrown));
        setPhase("none");
      }
    },
    async start(of: readonly LeftShot[], wish: LeftWish): Promise<void> {
      stop.current = new AbortController();
      setPhase("starting");
      await each(of, async (left) => {
        const { runId } = await post<{ runId: number }>(
          `/api/sequences/${left.shot.sequenceId}/runs`,
          bodyOf(wish),
        );
        put(left, { run: runId });
      });
      setPhase("started");
    },
    /** What was started goes on. */
    leave(): void {
      stop.current.abort();
      setPhase((before) => (before === "starting" ? "started" : "none"));
    },
  };
}
