"use client";
/** Run: what is decided of the next run, what follows from it, and the log while one goes on. */
import { Button, Flex, Text } from "@chakra-ui/react";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { goesOn } from "@/core/run/run-life";
import { Bench } from "../page/bench";
import { runOnShow } from "../shot/run-on-show";
import { useSequenceNow, useShotWork } from "../shot/shot-context";
import { ChangeRun } from "./change-run";
import { useCluster } from "../live/queries";
import { ClusterPane } from "./cluster-pane";
import { DecisionLines, StartRun } from "./decision";
import { HandOutPane } from "./hand-out";
import { MannerLine } from "./manner";
import { PreflightList, usePreflight } from "./preflight";
import { RunChoices } from "./run-choices";
import { NOTHING_MORE, ThenLine } from "./then";
import { RunLog } from "./run-log";
import { RunResult } from "./run-result";
import { type RunChoice, useRunWish } from "./use-run-wish";

/** What the right side shows; the choice is the person's until a run starts or ends. */
type Pane = "decision" | "log" | "change" | "cluster";

/**
 * What the next run would do, always; the last one's result is a line above it, and the log of one that goes
 * is a pane beside.
 */
export function RunBench({
  choice,
  onChoice,
}: {
  readonly choice: RunChoice;
  readonly onChoice: (choice: RunChoice) => void;
}) {
  const { bench } = useShotWork();
  const { view } = useSequenceNow();
  const plan = useRunWish(choice);
  const { wish, change, decision, request, hasWork, canBegin } = plan;
  const isLeased = wish.shares === null;
  const preflight = usePreflight(bench === "run" && hasWork && canBegin ? request : null);
  const run = runOnShow(view.runs) ?? view.runs[0] ?? null;
  // What is decided comes first; while a run is on and nothing is left to decide, its log does.
  const [pane, setPane] = useState<Pane>(
    run !== null && (decision?.frames ?? 0) === 0 && goesOn(run.state) ? "log" : "decision",
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
  const cluster = useCluster(bench === "run" && run !== null);
  const canSend =
    run !== null &&
    !run.isHandedOut &&
    (run.dispatch !== null || (run.state === "active" && cluster.data?.isDeclared === true));
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
        <RunChoices
          choice={choice}
          onChoice={deciding(onChoice)}
          plan={{ ...plan, change: deciding(change) }}
        />
      }
      foot={
        <>
          {isLeased && <ThenLine value={wish.then} onChange={(then) => change({ then })} />}
          {isLeased && (
            <MannerLine
              value={wish.manner}
              onChange={(manner) => change({ manner: { ...wish.manner, ...manner } })}
            />
          )}
          <StartRun
            decision={decision}
            request={request}
            preflight={preflight}
            isReady={canBegin || isLeased}
            onNodes={(nodes) => change({ nodes })}
            onStarted={() => {
              setPane("log");
              change({ shares: null, inNextVersion: false, then: NOTHING_MORE });
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
            {canSend && (
              <PaneButton isOpen={pane === "cluster"} onOpen={() => setPane("cluster")}>
                Cluster
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
          ) : pane === "cluster" && canSend ? (
            <ClusterPane run={run} />
          ) : pane === "change" && canChange ? (
            <ChangeRun key={run.id} run={run} />
          ) : plan.phrase === "" ? (
            <Text color="softInk">
              {choice.scope === "selection" ? "Select frames on the band." : "Write which frames."}
            </Text>
          ) : decision === null ? null : (
            <>
              <DecisionLines
                decision={decision}
                points={wish.also.length === 0 ? undefined : preflight.data?.points}
              />
              {hasWork && (
                <PreflightList request={request} result={preflight} onNodes={(nodes) => change({ nodes })} />
              )}
            </>
          )}
        </>
      }
    />
  );
}

/** Looks like a word and not like a tab: three of them stand in the space of one line. */
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
