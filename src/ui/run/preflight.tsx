"use client";
/**
 * The list before a start: each point with its verdict and its mend.
 * Points are data of the server; their words and mends are here. A mend changes a draft, a list of nodes or
 * removes leftovers: it never starts anything by itself.
 */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient, type UseQueryResult } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import type { StartRunBody } from "@/contract/bodies";
import { putBackEdits, type ResumeBar } from "@/core/run/checkpoint";
import { mayTake } from "@/core/run/who-takes";
import { type PreflightPoint, type Verdict, verdictOf } from "@/core/run/preflight";
import { ApiFailure, messageOf, post, remove } from "../live/api";
import { useLive } from "../live/live-store";
import { Refusal } from "../page/states";
import { useOpenVersion } from "../shot/use-open-version";
import { hazardText, noteMend, noteText } from "../shot/plan-words";
import { useSequenceNow, useShotWork } from "../shot/shot-context";
import { finePoints, pointText } from "./words";
import { queryKeys } from "../live/query-keys";
import type { PreflightView } from "@/contract/run-view";
import { UNDERLINED } from "../theme/underlined";

/** Nodes hash files for it: not at every keystroke. */
const SETTLE_MS = 500;
/** As old as this it is asked for again while it is looked at. */
const STALE_MS = 15_000;

/** The value when it has rested for a moment: nodes are asked for a preflight, and not at each key. */
function useSettled<T>(value: T): T {
  const [settled, setSettled] = useState(value);
  const text = JSON.stringify(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(JSON.parse(text) as T), SETTLE_MS);
    return () => clearTimeout(timer);
  }, [text]);
  return settled;
}

/** What is known: data, a failure to ask, or (neither) nothing yet. */
export type Preflight = Pick<UseQueryResult<PreflightView>, "data" | "error">;

const NOT_LOOKED_AT: Preflight = { data: undefined, error: null };

/**
 * What was found for exactly this request: from the moment it is changed until it has been looked
 * at nothing is known, so that no start rests on the answer to another one.
 *
 * @param request null while there is nothing to look at
 */
export function usePreflight(request: StartRunBody | null): Preflight {
  const { view } = useSequenceNow();
  const settled = useSettled(request);
  const { data, error } = useQuery({
    queryKey: [...queryKeys.preflight(view.id), settled],
    queryFn: () => post<PreflightView>(`/api/sequences/${view.id}/preflight`, settled),
    enabled: settled !== null && request !== null,
    staleTime: STALE_MS,
    refetchInterval: STALE_MS,
  });
  return JSON.stringify(settled) === JSON.stringify(request) ? { data, error } : NOT_LOOKED_AT;
}

/** The page itself says already that server or database do not answer. */
const isAway = (error: Error): boolean =>
  error instanceof ApiFailure && (error.code === "database-away" || error.code === "server-away");

const VERDICT_INK: Readonly<Record<Verdict, string>> = { stop: "brick", ask: "ochre", fine: "ink" };
const VERDICT_WORD: Readonly<Record<Verdict, string>> = { stop: "stops", ask: "think", fine: "fine" };

export interface PreflightProps {
  /** What it was looked at for. */
  readonly request: StartRunBody;
  readonly result: Preflight;
  /** For "leave it out". */
  readonly onNodes: (nodes: readonly string[] | null) => void;
}

/** What stops comes first, then what wants a yes, then one line of what is fine. */
export function PreflightList({ request, result, onNodes }: PreflightProps) {
  const points = result.data?.points ?? [];
  const open = points.filter((point) => verdictOf(point) !== "fine");
  return (
    <Box mt="2" role="group" aria-label="Preflight" data-testid="preflight">
      <Text fontWeight="700" mb="0.5">
        Preflight
      </Text>
      {result.error !== null &&
        (isAway(result.error) ? (
          <Text color="softInk">Looked at again as soon as there is an answer.</Text>
        ) : (
          <Refusal>{messageOf(result.error)}</Refusal>
        ))}
      {result.data === undefined && result.error === null && (
        <Text color="softInk" role="status">
          Nodes prove that they see the scene and can write.
        </Text>
      )}
      {open.map((point, i) => (
        <PreflightLine key={`${point.code}${i}`} point={point} request={request} onNodes={onNodes} />
      ))}
      {result.data !== undefined && (
        <Text color="softInk" fontSize="xs">
          Fine: {finePoints(points.filter((point) => verdictOf(point) === "fine")).join("; ")}.
        </Text>
      )}
    </Box>
  );
}

/** A point with its verdict, its sentence and, where there is one, its mend. */
function PreflightLine({
  point,
  request,
  onNodes,
}: { readonly point: PreflightPoint } & Omit<PreflightProps, "result">) {
  const { draft, openBench } = useShotWork();
  const { view } = useSequenceNow();
  const client = useQueryClient();
  const clear = useMutation({
    mutationFn: () => remove(`/api/sequences/${view.id}/leftovers`, request),
    onSuccess: () => client.invalidateQueries({ queryKey: queryKeys.preflight(view.id) }),
  });
  const verdict = verdictOf(point);
  const inPlan = (
    <Button size="xs" variant="outline" flexShrink={0} onClick={() => openBench("plan")}>
      See the plan
    </Button>
  );
  const mend = (): React.ReactNode => {
    switch (point.code) {
      case "node-cannot-write":
      case "node-lacks-files":
      case "node-sees-other-files":
      case "node-lacks-renderer":
      case "node-silent":
        return <LeaveOut node={point.node} nodes={request.nodes} onNodes={onNodes} />;
      case "note": {
        const change = noteMend(point.note);
        return change === null ? (
          inPlan
        ) : (
          <Button
            size="xs"
            variant="outline"
            flexShrink={0}
            onClick={() => {
              draft.change(change.change);
              openBench("plan");
            }}
          >
            {change.text}
          </Button>
        );
      }
      case "refines-afresh":
        return point.keepsSamples ? null : (
          <Button
            size="xs"
            variant="outline"
            flexShrink={0}
            onClick={() => {
              draft.change({ keepSamples: true });
              openBench("plan");
            }}
          >
            Keep samples
          </Button>
        );
      case "same-again":
      case "hazard":
      case "camera-missing":
      case "scene-unreadable":
        return inPlan;
      case "starts-over":
        return <StartsOver bar={point.bar} />;
      case "leftovers":
        return (
          <Button
            size="xs"
            variant="outline"
            flexShrink={0}
            loading={clear.isPending}
            onClick={() => clear.mutate()}
          >
            Remove them
          </Button>
        );
      default:
        return null;
    }
  };
  return (
    <Flex gap="3" py="1" {...UNDERLINED} align="center" role={verdict === "stop" ? "alert" : undefined}>
      <Text w="44px" flexShrink={0} fontSize="xs" fontWeight="700" color={VERDICT_INK[verdict]}>
        {VERDICT_WORD[verdict]}
      </Text>
      <Text flex="1" color={VERDICT_INK[verdict]}>
        {point.code === "hazard"
          ? hazardText(point.hazard)
          : point.code === "note"
            ? noteText(point.note)
            : pointText(point)}
      </Text>
      {mend()}
    </Flex>
  );
}

/** Beside starting over: the settings as they were, or a version of its own for the new ones. */
function StartsOver({ bar }: { readonly bar: ResumeBar }) {
  const { draft, shot, openBench } = useShotWork();
  const open = useOpenVersion();
  const edits = bar.code === "sums-not-kept" ? null : putBackEdits(bar.changes);
  return (
    <Flex gap="2" flexShrink={0} align="center">
      {edits !== null && (
        <Button
          size="xs"
          variant="outline"
          onClick={() => {
            draft.change(edits);
            openBench("plan");
          }}
        >
          Put {Object.keys(edits).length === 1 ? "it" : "them"} back
        </Button>
      )}
      <Button
        size="xs"
        variant="outline"
        loading={open.isPending}
        onClick={() => open.mutate({ plan: shot.plan, purpose: shot.sequence.purpose, fromRevisionId: null })}
      >
        New version
      </Button>
      {open.error !== null && <Refusal>{messageOf(open.error)}</Refusal>}
    </Flex>
  );
}

/** Runs on the others: those that were chosen, or all that are awake, without this one. */
function LeaveOut({
  node,
  nodes,
  onNodes,
}: {
  readonly node: string;
  /** Names; null is every node. */
  readonly nodes: readonly string[] | null;
  readonly onNodes: (nodes: readonly string[]) => void;
}) {
  // Of a group all but one are named one by one.
  const others = useLive()
    .nodes.filter((n) => (nodes === null ? n.state !== "stopped" : mayTake(nodes, n)) && n.name !== node)
    .map((n) => n.name);
  return (
    <Button
      size="xs"
      variant="outline"
      flexShrink={0}
      disabled={others.length === 0}
      onClick={() => onNodes(others)}
    >
      Leave {node} out
    </Button>
  );
}
