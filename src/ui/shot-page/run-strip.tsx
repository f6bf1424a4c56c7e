"use client";
/**
 * The strip that is there whenever a run is on, or was stopped with frames left.
 * How far, how fast, when it ends, who works, and how to stop it: whatever else is on the page. Counts come
 * with the sequence, what moves by the second with the live news, the pace is asked for as frames are done.
 */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { BellRing } from "lucide-react";
import { useEffect } from "react";
import type { Policy } from "@/core/run/what-to-render";
import { offerAmong } from "@/core/plan/renderer-offer";
import { savesSamples } from "@/core/plan/renderer";
import { messageOf, post } from "../live/api";
import { useLive } from "../live/live-store";
import { useRunPace } from "../live/queries";
import { useNow } from "../page/header";
import { Refusal } from "../page/states";
import { Tip } from "../theme/tip";
import { useMayTell } from "../run/use-run-end";
import { HeldLine } from "./held-line";
import { useShotWork } from "../shot/shot-context";
import {
  clock,
  count,
  deedText,
  finishText,
  frames,
  listed,
  paceText,
  standstillText,
  workTime,
} from "../words";
import { goesOn } from "@/core/run/run-life";
import { standstillOf } from "@/core/run/standstill";
import type { RunView } from "@/contract/run-view";
import type { RenderingView } from "@/contract/live";

/** What it was started for, behind the run's number. */
const POLICY_WORD: Readonly<Record<Policy, string>> = {
  fill: "what was missing",
  mend: "what was not good",
  all: "every frame",
  refine: "more samples",
};

/**
 * More nodes than this are counted: their names would take a second line. Who does what is on the Nodes page.
 */
const NAMED_NODES = 2;

type Revisions = RunView["revisions"];
/** "revision 3"; where several versions are covered, each with its own. */
const revisionText = (revisions: Revisions, of: (revision: Revisions[number]) => number): string =>
  revisions.length === 1
    ? `revision ${of(revisions[0]!)}`
    : listed(revisions.map((r) => `${r.version} revision ${of(r)}`));
const followsText = (revisions: Revisions): string => revisionText(revisions, (r) => r.follows);
const newestText = (revisions: Revisions): string => revisionText(revisions, (r) => r.newest);

/** The first part of a two-part run goes on. */
const isLit = ({ lighting, done }: RunView): boolean =>
  lighting !== null && lighting.made < lighting.total && done === 0;

/** Who stopped it, where the last thing that was done to it was that: by the clock it stops by itself. */
const byWhom = ({ deeds: [last] }: RunView): string =>
  last?.who != null && (last.did === "stop" || last.did === "stop-now") ? ` by ${last.who}` : "";

/** One line, whatever goes on: it stands above the bench and must not take from it. */
export function RunStrip({ run }: { readonly run: RunView }) {
  const live = useLive();
  const now = useNow();
  const stop = useMutation({
    mutationFn: (how: "after-frames" | "now") => post(`/api/runs/${run.id}/stop`, { how }),
  });
  const resume = useMutation({ mutationFn: () => post(`/api/runs/${run.id}/resume`) });
  const anew = useMutation({ mutationFn: () => post(`/api/runs/${run.id}/resume-newest`) });
  const mayTell = useMayTell();
  const trouble = stop.error ?? resume.error ?? anew.error;
  // A refusal belongs to the state it was made in.
  const { reset: forgetStop } = stop;
  const { reset: forgetResume } = resume;
  useEffect(() => {
    forgetStop();
    forgetResume();
  }, [run.state, run.held, forgetStop, forgetResume]);
  const isOutdated = run.revisions.some((r) => r.newest > r.follows);
  const pace = useRunPace(run);
  const working = live.rendering.filter((r) => r.runId === run.id);
  const still =
    now === null
      ? null
      : standstillOf({ ...run, isHeld: run.held !== null }, working.length, live.nodes, now);
  const stillText = still === null || now === null ? null : standstillText(still, now);
  const { shot } = useShotWork();
  // Said on the button itself, before the click that costs it.
  const losesWork = !savesSamples(shot.plan, offerAmong(shot.renderers, shot.plan.renderer));
  const workText = (r: RenderingView): string =>
    `${r.node} ${r.isLight ? "light of " : ""}${r.frame} ${workTime(r, passed)}`;
  const passed = now === null || live.at === 0 ? 0 : Math.max(0, now - live.at) / 1000;
  return (
    <Box bg="sheet" borderWidth="1px" borderColor="rule" px="3" py="3px" data-testid="run-strip">
      {/* One line, but on a phone, where the counts would be cut off. */}
      <Flex
        gap="4"
        rowGap="1"
        align="center"
        fontSize="sm"
        minH="26px"
        className="figures"
        flexWrap={{ base: "wrap", md: "nowrap" }}
      >
        <Flex
          gap="4"
          rowGap="0"
          align="center"
          flex={{ base: "1 0 100%", md: "1" }}
          flexWrap={{ base: "wrap", md: "nowrap" }}
          minW="0"
          overflow="hidden"
          whiteSpace="nowrap"
          title={working.map(workText).join("\n")}
        >
          <Text
            fontWeight="700"
            {...(now === null ? {} : { title: run.deeds.map((deed) => deedText(deed, now)).join("\n") })}
          >
            Run {run.id}, {POLICY_WORD[run.policy]}
            {run.versions.length > 1 ? ` ${listed(run.versions)}` : ""}
          </Text>
          {isLit(run) && (
            <Text>
              first its gathered light, {count(run.lighting!.made)} of {count(run.lighting!.total)}
            </Text>
          )}
          <Text>
            {count(run.done)} of {frames(run.total)} {run.isHandedOut ? "back" : "done"}
            {run.failed > 0 ? `, ${count(run.failed)} set aside` : ""}
          </Text>
          {run.left > 0 && (
            <Text>
              {count(run.left)} {run.isHandedOut && goesOn(run.state) ? "handed out" : "left"}
            </Text>
          )}
          {stillText !== null && (
            <Text color="ochre" role="status" truncate title={stillText}>
              {stillText}
            </Text>
          )}
          {still === null && pace.secondsAFrame !== null && (
            <Text>{paceText(pace.secondsAFrame, pace.framesAMinute)}</Text>
          )}
          {still === null && pace.likelyFinish !== null && pace.lateFinish !== null && now !== null && (
            <Text title="Nine times in ten by the later time">
              {finishText(pace.likelyFinish, pace.lateFinish, now)}
            </Text>
          )}
          {run.stopAt !== null && now !== null && run.state === "active" && (
            <Text>stops {clock(run.stopAt, now)}</Text>
          )}
          {working.length > NAMED_NODES ? (
            <Text title={working.map(workText).join("\n")}>{count(working.length)} frames in work</Text>
          ) : (
            working.map((r) => (
              <Text key={`${r.node}${r.frame}`} fontFamily="mono" fontSize="xs">
                {workText(r)}
              </Text>
            ))
          )}
        </Flex>
        <Flex gap="3" flexShrink={0} align="center" whiteSpace="nowrap">
          {run.state === "stopping" && (
            <Text color="softInk">Stopping after the running frames{byWhom(run)}.</Text>
          )}
          {run.state === "halting" && (
            <Text color="softInk">Stopping now: what is in work is being saved.</Text>
          )}
          {run.state === "stopped" && <Text color="softInk">Stopped{byWhom(run)}.</Text>}
          {mayTell.canAsk && (
            <Tip text="The browser asks once; then it tells you when a run has ended that you have open here">
              <Button size="xs" variant="plain" aria-label="Tell me when it ends" onClick={mayTell.ask}>
                <BellRing size={15} />
              </Button>
            </Tip>
          )}
          {run.state === "active" && run.held === null && run.failed > 0 && (
            <Tip text="Frames that were set aside wait again, for every node">
              <Button size="xs" variant="plain" loading={resume.isPending} onClick={() => resume.mutate()}>
                Try {frames(run.failed)} again
              </Button>
            </Tip>
          )}
          {run.state === "active" && run.isHandedOut && (
            <Tip text="What is not back waits for its machine no more; the run can go on later">
              <Button
                size="xs"
                variant="plain"
                loading={stop.isPending}
                onClick={() => stop.mutate("after-frames")}
              >
                Wait no longer
              </Button>
            </Tip>
          )}
          {run.state === "active" && !run.isHandedOut && (
            <Tip text="The frames in work are finished; the rest stays with this run">
              <Button
                size="xs"
                variant="plain"
                loading={stop.isPending}
                onClick={() => stop.mutate("after-frames")}
              >
                Stop after these
              </Button>
            </Tip>
          )}
          {(run.state === "active" || run.state === "stopping") && !run.isHandedOut && (
            <Tip
              text={
                losesWork
                  ? "At once. The plan saves no samples: what the running frames have done so far is lost"
                  : "At once. What the running frames have so far is saved, and they go on from there"
              }
            >
              <Button size="xs" variant="plain" loading={stop.isPending} onClick={() => stop.mutate("now")}>
                {losesWork && working.length > 0
                  ? `Stop now, losing work on ${count(working.length)}`
                  : "Stop now"}
              </Button>
            </Tip>
          )}
          {(run.state === "stopped" || run.state === "stopping" || run.state === "halting") && (
            <Tip text={`With the plan that the run began with: ${followsText(run.revisions)}`}>
              <Button size="xs" h="26px" loading={resume.isPending} onClick={() => resume.mutate()}>
                {run.isHandedOut ? `Wait for ${frames(run.left)} again` : `Go on with ${frames(run.left)}`}
                {isOutdated && !run.isHandedOut ? `, ${followsText(run.revisions)}` : ""}
              </Button>
            </Tip>
          )}
          {run.state === "stopped" && isOutdated && !run.isHandedOut && (
            <Tip text="A new run with the newest plan takes what this one has left">
              <Button
                size="xs"
                h="26px"
                variant="outline"
                loading={anew.isPending}
                onClick={() => anew.mutate()}
              >
                With {newestText(run.revisions)} instead
              </Button>
            </Tip>
          )}
        </Flex>
      </Flex>
      {run.held !== null && (
        <HeldLine held={run.held} isPending={resume.isPending} onGoOn={() => resume.mutate()} />
      )}
      {trouble !== null && <Refusal>{messageOf(trouble)}</Refusal>}
    </Box>
  );
}
