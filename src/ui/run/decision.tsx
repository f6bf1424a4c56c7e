"use client";
/** What a run would render and keep, with the reason for each frame, and the button that starts it. */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import type { ShotView } from "@/contract/shot-view";
import type { StartRunBody } from "@/contract/bodies";
import type { FrameSet } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { type PreflightPoint, verdictOf } from "@/core/run/preflight";
import { messageOf, post } from "../live/api";
import { Caption, Line } from "../page/bench";
import { NodeChoice, OneOf } from "../page/choices";
import { Refusal } from "../page/states";
import { Toggle } from "../fields/fields";
import { useShotWork, useSequenceNow } from "../shot/shot-context";
import { count, frames } from "../words";
import type { Preflight } from "./preflight";
import type { Scope, VersionDecision } from "./use-decision";
import { KEEP_TEXT, RENDER_TEXT } from "./words";

/** Two lines at most: a torn set has thousands of runs. The whole of it is the title. */
function Phrase({ set }: { readonly set: FrameSet }) {
  const phrase = formatPhrase(set);
  return (
    <Box as="span" fontFamily="mono" fontSize="xs" title={phrase} lineClamp={2}>
      {phrase}
    </Box>
  );
}

/** The lines of a decision: render first, then keep; the other sequences in a line each. */
export function DecisionLines({
  decision,
  points,
}: {
  readonly decision: VersionDecision;
  readonly points?: readonly PreflightPoint[] | undefined;
}) {
  const { shot } = useShotWork();
  const { focus, others } = decision;
  const own = shot.versions.find((v) => v.id === shot.versionId)?.name;
  return (
    <Box data-testid="decision">
      <Line
        label={
          <Box as="span" color="ink" fontWeight="700">
            Will be rendered
          </Box>
        }
      >
        <b data-testid="to-render">{frames(focus?.toRender.count ?? 0)}</b>
        {renderedOf(points).length > 1 ? ` of ${own}` : ""}
        {others.length > 0 ? ` of ${shot.sequence.pass}` : ""}
        {shot.plan.cameras.length > 1 ? `, ${shot.sequence.camera} camera` : ""}
        {decision.pictures > (focus?.toRender.count ?? 0)
          ? `; ${frames(decision.frames)} in all${decision.pictures === decision.frames ? "" : `, ${count(decision.pictures)} pictures`}`
          : ""}
      </Line>
      {focus?.render.map(({ reason, frames: set }) => (
        <Line key={reason} label={`${count(set.count)} ${RENDER_TEXT[reason]}`}>
          <Phrase set={set} />
        </Line>
      ))}
      {others
        .filter((o) => o.decision.toRender.count > 0)
        .map(({ camera, pass, decision: other }) => (
          <Line
            key={`${camera}/${pass}`}
            label={`${shot.plan.cameras.length > 1 ? `${camera}, ` : ""}${pass}: ${count(other.toRender.count)}`}
          >
            <Phrase set={other.toRender} />
          </Line>
        ))}
      {renderedOf(points)
        .filter((v) => v.version !== own)
        .map((v) => (
          <Line key={v.version} label={`${v.version}: ${count(v.count)}`}>
            <Box as="span" fontFamily="mono" fontSize="xs" title={v.frames} lineClamp={2}>
              {v.frames === "" ? "nothing of this" : v.frames}
            </Box>
          </Line>
        ))}
      {focus !== null && focus.keep.length > 0 && (
        <Line
          label={
            <Box as="span" color="ink" fontWeight="700">
              Will be kept
            </Box>
          }
        >
          <b>{frames(focus.keep.reduce((sum, k) => sum + k.frames.count, 0))}</b>
        </Line>
      )}
      {focus?.keep.map(({ reason, frames: set }) => (
        <Line key={reason} label={`${count(set.count)} ${KEEP_TEXT[reason]}`}>
          <Phrase set={set} />
        </Line>
      ))}
      {focus !== null && focus.notAsked.count > 0 && (
        <Line label="Not in the plan">
          <Phrase set={focus.notAsked} />
        </Line>
      )}
    </Box>
  );
}

/** Every sequence of the version, or the one with the focus; no choice while there is only one. */
export function ScopeChoice({
  value,
  onChange,
}: {
  readonly value: Scope;
  readonly onChange: (scope: Scope) => void;
}) {
  const { shot } = useShotWork();
  const { view } = useSequenceNow();
  if (view.siblings.length < 2) return null;
  return (
    <>
      <Caption>In</Caption>
      <OneOf<Scope>
        label="In which sequences"
        value={value}
        onChange={onChange}
        options={[
          {
            key: "version",
            text: `All ${count(view.siblings.length)} sequences of the version: a frame writes each pass that needs it`,
          },
          { key: "sequence", text: `Only ${shot.sequence.camera} ${shot.sequence.pass}` },
        ]}
      />
    </>
  );
}

/**
 * Further versions of the shot that the same run covers; no choice while there is only one that may be
 * rendered.
 */
export function AlsoVersions({
  value,
  onChange,
}: {
  readonly value: readonly string[];
  readonly onChange: (versions: readonly string[]) => void;
}) {
  const { shot } = useShotWork();
  const others = otherOpenVersions(shot);
  if (others.length === 0) return null;
  return (
    <>
      <Caption>Also these versions, frame by frame beside this one</Caption>
      <Flex gap="5" rowGap="1" mb="2.5" flexWrap="wrap" role="group" aria-label="Also these versions">
        {others.map((name) => (
          <Toggle
            key={name}
            isOn={value.includes(name)}
            onChange={(isOn) => onChange(others.filter((n) => (n === name ? isOn : value.includes(n))))}
          >
            <Box as="span" fontFamily="mono">
              {name}
            </Box>
          </Toggle>
        ))}
      </Flex>
    </>
  );
}

/** Versions of the same purpose that are not retired, without the one on show. */
export function otherOpenVersions({ versions, versionId }: ShotView): string[] {
  const own = versions.find((v) => v.id === versionId);
  return versions
    .filter((v) => v.id !== versionId && v.purpose === own?.purpose && v.status !== "retired")
    .map((v) => v.name);
}

/** What a run over several versions renders of the others, once the server has looked at them. */
const renderedOf = (
  points: readonly PreflightPoint[] | undefined,
): readonly { readonly version: string; readonly frames: string; readonly count: number }[] =>
  points?.find((p) => p.code === "versions")?.versions ?? [];

export interface StartRunProps {
  /** Null while it cannot be made yet. */
  readonly decision: VersionDecision | null;
  /** What is sent. */
  readonly request: StartRunBody;
  /** Of exactly this request. */
  readonly preflight: Preflight;
  /** Null is every node. */
  readonly onNodes: (nodes: readonly string[] | null) => void;
  readonly onStarted?: () => void;
  /** False while what is written beside it cannot be started. */
  readonly isReady?: boolean;
}

/**
 * Starts a run on the saved revision; unsaved edits are named, and saving is offered. What stops is mended
 * first; what asks wants a yes.
 */
export function StartRun({
  decision,
  request,
  preflight,
  onNodes,
  onStarted,
  isReady = true,
}: StartRunProps) {
  const { draft, shot, openBench, openSequence } = useShotWork();
  const { view } = useSequenceNow();
  const [isAsking, setAsking] = useState(false);
  const start = useMutation({
    mutationFn: () =>
      post<{ runId: number; frames: number; version?: string }>(`/api/sequences/${view.id}/runs`, request),
    onSuccess: ({ version }) => {
      setAsking(false);
      onStarted?.();
      if (version !== undefined)
        openSequence({ version, camera: shot.sequence.camera, pass: shot.sequence.pass });
    },
  });
  const own = decision?.frames ?? 0;
  const several = renderedOf(preflight.data?.points);
  const toRender = several.length > 0 ? several.reduce((sum, v) => sum + v.count, 0) : own;
  const verb = request.shares === undefined ? "Render" : "Hand out";
  const noNodes = request.shares === undefined && request.nodes !== null && request.nodes.length === 0;
  const points = preflight.data?.points ?? [];
  const stops = points.filter((point) => verdictOf(point) === "stop").length;
  const asks = points.filter((point) => verdictOf(point) === "ask").length;
  // Shut until it has been looked at: a start may not rest on a preflight of another wish.
  const isLooking =
    isReady &&
    (toRender > 0 || (request.also ?? []).length > 0) &&
    !noNodes &&
    preflight.data === undefined &&
    preflight.error === null;
  return (
    <>
      {draft.changed.length > 0 && (
        <Flex role="alert" gap="3" align="center" mb="2" color="ochre">
          <Text>The plan has edits that are not saved; a run uses revision {shot.revision}.</Text>
          <Button size="xs" variant="outline" loading={draft.isSaving} onClick={() => void draft.save()}>
            Save them
          </Button>
          <Button size="xs" variant="plain" onClick={() => openBench("plan")}>
            See them
          </Button>
        </Flex>
      )}
      {request.shares === undefined && (
        <Flex gap="4" mb="2">
          <Text color="softInk">On</Text>
          <NodeChoice value={request.nodes} onChange={onNodes} />
        </Flex>
      )}
      {noNodes && (
        <Text color="ochre" mb="2">
          No node may take part: choose at least one.
        </Text>
      )}
      {isAsking && asks > 0 && stops === 0 ? (
        <Flex gap="4" align="center" role="alert">
          <Text color="ochre">
            {count(asks)} {asks === 1 ? "point wants" : "points want"} a thought.
          </Text>
          <Button size="sm" loading={start.isPending} onClick={() => start.mutate()}>
            {verb} {frames(toRender)} all the same
          </Button>
          <Button size="sm" variant="plain" onClick={() => setAsking(false)}>
            Not yet
          </Button>
        </Flex>
      ) : (
        <Flex gap="4" align="center">
          <Button
            size="sm"
            flexShrink={0}
            disabled={toRender === 0 || noNodes || !isReady || stops > 0 || isLooking}
            loading={start.isPending}
            onClick={() => (asks > 0 ? setAsking(true) : start.mutate())}
          >
            {toRender === 0 && !isLooking ? "Nothing to render" : `${verb} ${frames(toRender)}`}
          </Button>
          {stops > 0 && toRender > 0 && (
            <Text color="brick">
              {count(stops)} {stops === 1 ? "point stops" : "points stop"} the start.
            </Text>
          )}
          {isLooking && (
            <Text color="softInk" role="status">
              {request.shares === undefined
                ? "Looking at nodes, disk and names."
                : "Looking at disk and names."}
            </Text>
          )}
          {start.isSuccess && (
            <Text role="status">
              Run {start.data.runId} {request.shares === undefined ? "has begun with" : "hands out"}{" "}
              {frames(start.data.frames)}.
            </Text>
          )}
        </Flex>
      )}
      {start.error !== null && <Refusal>{messageOf(start.error)}</Refusal>}
    </>
  );
}
