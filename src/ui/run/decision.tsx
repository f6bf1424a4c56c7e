"use client";
/** What a run would render and keep, with the reason for each frame, and the button that starts it. */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import type { FrameSet } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import type { Policy, RenderDecision } from "@/core/plan/what-to-render";
import { messageOf, post } from "../live/api";
import { Line } from "../page/bench";
import { NodeChoice } from "../page/choices";
import { Refusal } from "../page/states";
import { useShotWork } from "../shot/shot-context";
import { count, frames } from "../words";
import { KEEP_TEXT, RENDER_TEXT } from "./words";

function Phrase({ set }: { readonly set: FrameSet }) {
  const phrase = formatPhrase(set);
  return <Box as="span" fontFamily="mono" fontSize="xs" title={phrase} lineClamp={2}>{phrase}</Box>;
}

/** The lines of a decision: render first, then keep. */
export function DecisionLines({ decision }: { readonly decision: RenderDecision }) {
  return (
    <Box data-testid="decision">
      <Line label={<Box as="span" color="ink" fontWeight="700">Will be rendered</Box>}><b data-testid="to-render">{frames(decision.toRender.count)}</b></Line>
      {decision.render.map(({ reason, frames: set }) => <Line key={reason} label={`${count(set.count)} ${RENDER_TEXT[reason]}`}><Phrase set={set} /></Line>)}
      {decision.keep.length > 0 && <Line label={<Box as="span" color="ink" fontWeight="700">Will be kept</Box>}><b>{frames(decision.keep.reduce((sum, k) => sum + k.frames.count, 0))}</b></Line>}
      {decision.keep.map(({ reason, frames: set }) => <Line key={reason} label={`${count(set.count)} ${KEEP_TEXT[reason]}`}><Phrase set={set} /></Line>)}
      {decision.notAsked.count > 0 && <Line label="Not in the plan"><Phrase set={decision.notAsked} /></Line>}
    </Box>
  );
}

export interface StartRunProps {
  readonly decision: RenderDecision | null;
  readonly phrase: string;
  readonly policy: Policy;
  readonly nodes: readonly string[] | null;
  readonly onNodes: (nodes: readonly string[] | null) => void;
  readonly onStarted?: () => void;
}

/** Starts a run on the saved revision; unsaved edits are named, and saving is offered. */
export function StartRun({ decision, phrase, policy, nodes, onNodes, onStarted }: StartRunProps) {
  const { view, draft, shot, savePlan, openBench } = useShotWork();
  const start = useMutation({ mutationFn: () => post<{ runId: number; frames: number }>(`/api/sequences/${view.id}/runs`, { phrase, policy, nodes }), onSuccess: () => onStarted?.() });
  const toRender = decision?.toRender.count ?? 0;
  const noNodes = nodes !== null && nodes.length === 0;
  return (
    <>
      {draft.formState.isDirty && (
        <Flex role="alert" gap="3" align="center" mb="2" color="ochre">
          <Text>The plan has edits that are not saved; a run uses revision {shot.revision}.</Text>
          <Button size="xs" variant="outline" onClick={() => void savePlan()}>Save them</Button>
          <Button size="xs" variant="plain" onClick={() => openBench("plan")}>See them</Button>
        </Flex>
      )}
      <Flex gap="4" mb="2"><Text color="softInk">On</Text><NodeChoice value={nodes} onChange={onNodes} /></Flex>
      {noNodes && <Text color="ochre" mb="2">No node may take part: choose at least one.</Text>}
      <Flex gap="4" align="center">
        <Button size="sm" flexShrink={0} disabled={toRender === 0 || noNodes} loading={start.isPending} onClick={() => start.mutate()}>{toRender === 0 ? "Nothing to render" : `Render ${frames(toRender)}`}</Button>
        {start.isSuccess && <Text role="status">Run {start.data.runId} has begun with {frames(start.data.frames)}.</Text>}
        {start.error !== null && <Refusal>{messageOf(start.error)}</Refusal>}
      </Flex>
    </>
  );
}
