"use client";
/** Run: which frames, under which policy, on which nodes; and the log while it goes on. */
import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { type ReactNode, useEffect, useMemo, useRef, useState } from "react";
import type { StartRunBody } from "@/contract/bodies";
import { USUAL_MANNER } from "@/contract/run-manner";
import { EMPTY, unionAll } from "@/core/frames/frame-set";
import { parsePhrase } from "@/core/frames/phrase";
import { framesToRender, POLICIES, type Policy } from "@/core/run/what-to-render";
import { Bench, Caption } from "../page/bench";
import { OneOf } from "../page/choices";
import { Refusal } from "../page/states";
import { runOnShow } from "../shot/run-on-show";
import { useShotWork, useSequenceNow, usePointed } from "../shot/shot-context";
import { frames } from "../words";
import { ChangeRun } from "./change-run";
import { AlsoVersions, DecisionLines, otherOpenVersions, ScopeChoice, StartRun } from "./decision";
import { firstShares, HandOutPane, shareFault, ShareFields, type Shares } from "./hand-out";
import { type Manner, MannerLine } from "./manner";
import { RunLog } from "./run-log";
import { RunSummary } from "./run-summary";
import { PreflightList, usePreflight } from "./preflight";
import { type Scope, useDecision } from "./use-decision";
import { POLICY_TEXT } from "./words";
import { goesOn } from "@/core/run/run-life";
import type { RunView } from "@/contract/run-view";

export type RunScope = "all" | "selection" | "phrase";

export interface RunChoice {
  readonly scope: RunScope;
  readonly phrase: string;
}

export function RunBench({
  choice,
  onChoice,
}: {
  readonly choice: RunChoice;
  readonly onChoice: (choice: RunChoice) => void;
}) {
  const { shot, bench } = useShotWork();
  const { tally, names, view } = useSequenceNow();
  const { selection } = usePointed();
  const isOpen = bench === "run";
  const [policy, setPolicy] = useState<Policy>("fill");
  const [nodes, setNodes] = useState<readonly string[] | null>(null);
  const [also, setAlso] = useState<readonly string[]>([]);
  const [manner, setManner] = useState<Manner>(USUAL_MANNER);
  const phrase =
    choice.scope === "all"
      ? "all"
      : choice.scope === "selection"
        ? selection.set.count === 0
          ? ""
          : selection.text
        : choice.phrase;
  const read = useMemo(() => (phrase.trim() === "" ? null : parsePhrase(phrase, names)), [phrase, names]);
  const wanted = read?.ok ? read.set : EMPTY;
  const [scope, setScope] = useState<Scope>("version");
  /** null: connected nodes lease the frames. */
  const [shares, setShares] = useState<Shares | null>(null);
  const decision = useDecision(phrase, policy, shares === null ? scope : "version");
  const free =
    decision === null
      ? EMPTY
      : unionAll([decision.focus?.toRender ?? EMPTY, ...decision.others.map((o) => o.decision.toRender)]);
  // One that was retired meanwhile is no choice any more.
  const others = shares !== null ? [] : also.filter((name) => otherOpenVersions(shot).includes(name));
  const request: StartRunBody = {
    phrase: phrase.trim() === "" ? "all" : phrase,
    policy,
    scope: shares === null ? scope : "version",
    ...manner,
    nodes,
    ...(shares === null ? {} : { shares }),
    ...(others.length === 0 ? {} : { also: others }),
  };
  const toRender = decision?.files ?? 0;
  const hasWork = toRender > 0 || (others.length > 0 && decision !== null);
  const canBegin = shares === null ? nodes?.length !== 0 : shareFault(shares, free) === null;
  const preflight = usePreflight(isOpen && hasWork && canBegin ? request : null);
  const run = runOnShow(view.runs) ?? view.runs[0] ?? null;
  // What is decided comes first; while a run is on and nothing is left to decide, its log does.
  const [pane, setPane] = useState<"decision" | "log" | "change">(
    run !== null && toRender === 0 && goesOn(run.state) ? "log" : "decision",
  );
  const [isResultOpen, setResultOpen] = useState(false);
  const canChange = run !== null && !run.isHandedOut && (goesOn(run.state) || run.state === "stopped");
  // Whoever followed the log of a run to its end sees what came of it.
  const isDone = run?.state === "done";
  const wasDone = useRef(isDone);
  useEffect(() => {
    if (!wasDone.current && isDone) {
      setPane((open) => (open === "log" ? "decision" : open));
      setResultOpen(true);
    }
    wasDone.current = isDone;
  }, [isDone]);
  /** Who decides anew wants to see what follows. */
  const deciding =
    <V,>(set: (value: V) => void) =>
    (value: V): void => {
      set(value);
      setPane("decision");
    };
  return (
    <Bench
      left={
        <>
          <Caption>Which frames</Caption>
          <OneOf<RunScope>
            label="Which frames"
            value={choice.scope}
            onChange={deciding((scope) => onChoice({ ...choice, scope }))}
            options={[
              { key: "all", text: "All of the plan", figure: frames(tally.asked.count) },
              { key: "selection", text: "What is selected on the band", figure: frames(selection.set.count) },
              {
                key: "phrase",
                text: (
                  <Flex as="span" gap="2" align="center">
                    A phrase{" "}
                    <Input
                      size="xs"
                      w="220px"
                      fontFamily="mono"
                      bg="paper"
                      aria-label="Frames to run"
                      placeholder="1001-1010, missing"
                      value={choice.phrase}
                      onChange={(event) => onChoice({ scope: "phrase", phrase: event.target.value })}
                    />
                  </Flex>
                ),
              },
            ]}
          />
          {read !== null && !read.ok && (
            <Box mb="2">
              <Refusal>{read.error.message}</Refusal>
            </Box>
          )}
          <Caption>Of these, render</Caption>
          <OneOf<Policy>
            label="Of these, render"
            value={policy}
            onChange={deciding(setPolicy)}
            options={POLICIES.map((key) => ({
              key,
              text: POLICY_TEXT[key],
              figure: frames(framesToRender(tally, wanted, key).toRender.count),
            }))}
          />
          {shares === null && <ScopeChoice value={scope} onChange={deciding(setScope)} />}
          {shares === null && <AlsoVersions value={others} onChange={deciding(setAlso)} />}
          {shares === null ? (
            free.count > 0 && (
              <Button size="xs" variant="plain" px="0" onClick={() => deciding(setShares)(firstShares(free))}>
                Hand them out to machines that are not connected
              </Button>
            )
          ) : (
            <>
              <Flex justify="space-between" align="baseline">
                <Caption>Handed out to machines that are not connected</Caption>
                <Button size="xs" variant="plain" onClick={() => deciding(setShares)(null)}>
                  Let nodes render them
                </Button>
              </Flex>
              <ShareFields value={shares} toRender={free} onChange={deciding(setShares)} />
            </>
          )}
        </>
      }
      foot={
        <>
          {shares === null && (
            <MannerLine value={manner} onChange={(change) => setManner({ ...manner, ...change })} />
          )}
          <StartRun
            decision={decision}
            request={request}
            preflight={preflight}
            isReady={canBegin || shares === null}
            onNodes={setNodes}
            onStarted={() => {
              setPane("log");
              setShares(null);
            }}
          />
        </>
      }
      right={
        <>
          <Flex gap="5" mb="1.5" role="group" aria-label="What to show">
            <PaneButton isOpen={pane === "decision"} onOpen={() => setPane("decision")}>
              What follows
            </PaneButton>
            {run !== null && (
              <PaneButton isOpen={pane === "log"} onOpen={() => setPane("log")}>
                {run.isHandedOut ? "Hand-out of run" : "Log of run"} {run.id}
              </PaneButton>
            )}
            {canChange && (
              <PaneButton isOpen={pane === "change"} onOpen={() => setPane("change")}>
                Change run {run.id}
              </PaneButton>
            )}
          </Flex>
          {pane === "decision" && run !== null && !goesOn(run.state) && (
            <RunResult run={run} isOpen={isResultOpen} onOpen={setResultOpen} />
          )}
          {pane === "log" && run?.isHandedOut === true ? (
            <HandOutPane runId={run.id} isOn={goesOn(run.state)} />
          ) : pane === "log" && run !== null ? (
            <RunLog runId={run.id} nodes={view.files.nodes} />
          ) : pane === "change" && canChange ? (
            <ChangeRun key={run.id} run={run} />
          ) : phrase === "" ? (
            <Text color="softInk">
              {choice.scope === "selection" ? "Select frames on the band." : "Write which frames."}
            </Text>
          ) : decision === null ? null : (
            <>
              <DecisionLines
                decision={decision}
                points={others.length === 0 ? undefined : preflight.data?.points}
              />
              {hasWork && <PreflightList request={request} result={preflight} onNodes={setNodes} />}
            </>
          )}
        </>
      }
    />
  );
}

/** What the last run came to, as a line that opens; what the next one would do stays below it. */
function RunResult({
  run,
  isOpen,
  onOpen,
}: {
  readonly run: RunView;
  readonly isOpen: boolean;
  readonly onOpen: (isOpen: boolean) => void;
}) {
  return (
    <Box mb="2" pb="1.5" borderBottomWidth="1px" borderColor="rule">
      <Flex gap="3" align="baseline" className="figures">
        <Button variant="plain" size="sm" px="0" aria-expanded={isOpen} onClick={() => onOpen(!isOpen)}>
          What run {run.id} made
        </Button>
        <Text color="softInk" truncate>
          {frames(run.done)}
          {run.failed > 0 ? `, ${frames(run.failed)} set aside` : ""}
          {run.left > 0 ? `, ${frames(run.left)} left` : ""}
        </Text>
      </Flex>
      {isOpen && <RunSummary runId={run.id} />}
    </Box>
  );
}

function PaneButton({
  isOpen,
  onOpen,
  children,
}: {
  readonly isOpen: boolean;
  readonly onOpen: () => void;
  readonly children: ReactNode;
}) {
  return (
    <Button
      variant="plain"
      size="sm"
      px="0"
      aria-pressed={isOpen}
      {...(isOpen ? { color: "ink", fontWeight: "700", textDecoration: "none" } : {})}
      onClick={onOpen}
    >
      {children}
    </Button>
  );
}
