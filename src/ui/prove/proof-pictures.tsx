"use client";
/** The pictures of the proofs, newest first, each with what it cost. */
import { Box, Button, Flex, Grid, Image, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { aloneFactor, isTimedBusy, isTold, threadsOf } from "@/core/estimate/alone";
import type { CostSample } from "@/core/estimate/cost-model";
import { messageOf, post, proofUrl } from "../live/api";
import { Refusal } from "../page/states";
import { useSequenceNow } from "../shot/shot-context";
import { count, duration, size } from "../words";
import { ProofLook } from "./proof-look";
import { percentText } from "./words";
import type { ProofFrame, ProofsView, ProofView } from "@/contract/proof-view";

/** Newest first. A proof whose plan is the saved one offers to become frames of the run. */
export function ProofPictures({ view }: { readonly view: ProofsView }) {
  const proofs = view.proofs;
  if (proofs.length === 0)
    return (
      <Text color="softInk">
        No proof yet. First, middle and last tell most of a shot; they are rendered by your nodes as the run
        would, into a folder of their own.
      </Text>
    );
  return (
    <Flex direction="column" gap="3">
      {proofs.map((proof) => (
        <ProofRun key={proof.runId} proof={proof} />
      ))}
    </Flex>
  );
}

/** One proof: its frames, what is still to come, and the way into the sequence where it fits. */
function ProofRun({ proof }: { readonly proof: ProofView }) {
  const { view } = useSequenceNow();
  const client = useQueryClient();
  const use = useMutation({
    mutationFn: () =>
      post<{ placed: string; files: number }>(`/api/sequences/${view.id}/proofs/${proof.runId}/use`),
    onSuccess: () => client.invalidateQueries(),
  });
  const [looked, setLooked] = useState<number | null>(null);
  const isFit = proof.frames.some((frame) => frame.passes.some((pass) => pass.fits));
  return (
    <Box role="group" aria-label={`Proof ${proof.runId}`}>
      <Flex gap="3" align="baseline" mb="1" fontSize="xs" className="figures">
        <Text>
          <b>Proof {proof.runId}</b>, {proof.wanted} at {count(proof.plan.samples)} samples
        </Text>
        {proof.left > 0 && <Text color="petrol">{count(proof.left)} to come</Text>}
        {proof.failed > 0 && <Text color="brick">{count(proof.failed)} failed</Text>}
        {isFit && use.data === undefined && (
          <Button size="xs" variant="plain" loading={use.isPending} onClick={() => use.mutate()}>
            Use these
          </Button>
        )}
        {use.data !== undefined && (
          <Text role="status">
            Frames {use.data.placed} are in the sequence, {count(use.data.files)} files.
          </Text>
        )}
        {use.error !== null && <Refusal>{messageOf(use.error)}</Refusal>}
      </Flex>
      <Grid templateColumns="repeat(3, 1fr)" gap="2">
        {proof.frames.map((frame, i) => (
          <ProofPicture
            key={`${frame.camera}${frame.cost.frame}`}
            runId={proof.runId}
            renderer={proof.plan.renderer}
            frame={frame}
            onLook={() => setLooked(i)}
          />
        ))}
      </Grid>
      {looked !== null && (
        <ProofLook proof={proof} index={looked} onIndex={setLooked} onClose={() => setLooked(null)} />
      )}
    </Box>
  );
}

/** The denoised twin where there is one: that is what will be looked at. */
function ProofPicture({
  runId,
  renderer,
  frame,
  onLook,
}: {
  readonly runId: number;
  /** As the proof's plan names it. */
  readonly renderer: string;
  readonly frame: ProofFrame;
  readonly onLook: () => void;
}) {
  const { cost, passes } = frame;
  const shown =
    passes.find((p) => p.pass === "denoised") ?? passes.find((p) => p.pass === "beauty") ?? passes[0]!;
  const noise = passes.find((p) => p.pass === "beauty")?.noise;
  return (
    <Box fontSize="12px" className="figures">
      <Box
        as="button"
        display="block"
        w="full"
        bg="surround"
        aspectRatio="16 / 9"
        position="relative"
        cursor="zoom-in"
        aria-label={`See proof of frame ${cost.frame} large`}
        onClick={onLook}
      >
        <Image
          src={proofUrl(shown.sequenceId, runId, cost.frame, shown.content)}
          alt={`Proof of frame ${cost.frame}, ${shown.pass}`}
          position="absolute"
          inset="0"
          w="full"
          h="full"
          objectFit="contain"
        />
      </Box>
      <Text>
        <b>{cost.frame}</b> {frame.camera} ·{" "}
        {duration(cost.startupSeconds + cost.renderSeconds + cost.denoiseSeconds + cost.writeSeconds)} on{" "}
        {cost.node}
      </Text>
      <Text color="softInk">
        {count(cost.samples)} samples
        {frame.stoppedBy === "samples" || frame.stoppedBy === null ? "" : `, ended by ${frame.stoppedBy}`}
        {noise === undefined ? "" : `, grain ${percentText(noise)}`},{" "}
        {size(passes.reduce((sum, p) => sum + p.bytes, 0))}
      </Text>
      {isTimedBusy(cost) && <BesideOtherWork cost={cost} renderer={renderer} />}
    </Box>
  );
}

/** What the time of a proof is worth that was taken while the machine did something else, too. */
function BesideOtherWork({ cost, renderer }: { readonly cost: CostSample; readonly renderer: string }) {
  const factor = aloneFactor(cost, threadsOf({ renderer }, [cost]));
  return (
    <Text color={factor === null ? "ochre" : "softInk"}>
      The machine did other work meanwhile ({percentText(cost.otherLoad!)} of it)
      {factor === null
        ? ": the time says little."
        : isTold(factor)
          ? `: ${percentText(factor)} of the time counts, by what the renderer got of the processors.`
          : ", which cost this frame nothing."}
    </Text>
  );
}
