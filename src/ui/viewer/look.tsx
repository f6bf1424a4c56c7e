"use client";
/**
 * Look: a frame large on neutral grey, stepped through and played, with the band under it as the scrubber.
 * The picture is shown as its file holds it, on a surround that tints nothing. What a frame is, who made it
 * and what was found stands beside it, so that a flag is given with all facts in sight.
 */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import type { ShotView } from "@/contract/shot-view";
import { frameName, readPlan } from "@/core/plan/plan";
import { has, rangeSet } from "@/core/frames/frame-set";
import { unpackSet } from "@/core/tally/packed";
import { rateText } from "@/core/timing/rate";
import { FlagForm } from "../check/flag-form";
import { findingText } from "../check/words";
import { beforeUrl, fileUrl, messageOf, remove } from "../live/api";
import { useFrameChange, useAsideFiles } from "../live/queries";
import { Refusal } from "../page/states";
import { resultOf } from "../shot/result-of";
import { useShotWork, useSequenceNow } from "../shot/shot-context";
import { useSoFar } from "../shot/use-so-far";
import { count, duration } from "../words";
import { type PictureToSave, SaveAs } from "../picture/save-as";
import { ShotBand } from "./shot-band";
import { usePlayHead } from "./use-play-head";
import { Large } from "../picture/large";
import { Picture } from "../picture/picture";
import { LookControls } from "./look-controls";
import { ChangeLine } from "./change-line";

export interface LookProps {
  /** The page's focus: where one looked is where one is afterwards. */
  readonly frame: number;
  /** Frames to play between; null for all. */
  readonly stretch: { readonly first: number; readonly last: number } | null;
  readonly onFrame: (frame: number) => void;
  readonly onClose: () => void;
}

/** As the saved plan names the frame's file. */
function nameOf(shot: ShotView, frame: number): string {
  const read = readPlan(shot.plan);
  return read.ok
    ? frameName(read.value, { ...shot.namedAs, ...shot.sequence }, frame)
    : `${shot.code}_${frame}`;
}

/** Lies over the page; what is under it keeps its state and rests. */
export function Look({ frame, stretch, onFrame, onClose }: LookProps) {
  const { shot } = useShotWork();
  const { view, tally, files } = useSequenceNow();
  const head = usePlayHead(frame, stretch, onFrame);
  const { player } = head;
  const [isFlagging, setFlagging] = useState(false);
  const [isBefore, setBefore] = useState(false);
  const [isSaving, setSaving] = useState(false);
  const clear = useMutation({
    mutationFn: () =>
      remove<{ cleared: number }>(`/api/sequences/${view.id}/flags`, { phrase: String(frame) }),
  });

  const file = files.at(frame);
  const soFar = useSoFar(frame);
  const aside = useAsideFiles(view.id);
  const wasReplaced = useMemo(() => unpackSet(aside.data?.frames ?? []), [aside.data]);
  const hasBefore = file !== null && file.content !== "" && has(wasReplaced, frame);
  const change = useFrameChange(view.id, frame, file?.content ?? "", hasBefore && player.direction === 0);
  const showsBefore = isBefore && hasBefore && change.data !== undefined;
  const url = showsBefore ? beforeUrl(view.id, frame, change.data.file) : (head.url ?? soFar);
  const toSave: PictureToSave | null = showsBefore
    ? { url: fileUrl(url!), name: change.data.file }
    : head.url !== null
      ? { url: fileUrl(head.url), name: nameOf(shot, frame) }
      : soFar === null
        ? null
        : { url: soFar, name: `${shot.code}_${frame}_so-far.jpg`, remark: "What there is so far, as JPEG." };
  const findings = view.findings.filter((f) => f.frame === frame);
  return (
    <Large label={`Look at ${shot.code}`} testId="look" onClose={onClose}>
      <Picture
        url={url}
        pictures={head.pictures}
        message={
          file === null
            ? soFar === null
              ? `Frame ${frame} has no file.`
              : `There is no picture of frame ${frame} yet.`
            : file.content === ""
              ? `The file of frame ${frame} has not been looked at yet.`
              : `The file of frame ${frame} cannot be shown.`
        }
        label={`Frame ${frame}`}
      />
      <Box px={{ base: "3", md: "6" }} pt="2" pb="3" borderTopWidth="1px" borderColor="rule">
        <Flex align="center" gap="4" rowGap="1" mb="2" flexWrap="wrap" className="figures">
          <Text fontFamily="mono" fontSize="lg" fontWeight="700" minW="64px" data-testid="look-frame">
            {frame}
          </Text>
          <Text>
            {[
              resultOf(tally, frame) ?? "not in this sequence",
              file?.node,
              file?.seconds == null ? null : duration(file.seconds),
            ]
              .filter((part) => part != null)
              .join(" · ")}
          </Text>
          {findings.map((f) => (
            <Text key={f.id} color="brick">
              {findingText(f)}
            </Text>
          ))}
          <LookControls
            head={head}
            onFlag={() => {
              player.stop();
              setFlagging(true);
            }}
            onGood={() => clear.mutate()}
            isBefore={hasBefore ? isBefore : null}
            onBefore={() => setBefore(!isBefore)}
            onSave={
              url === null
                ? null
                : () => {
                    player.stop();
                    setSaving(true);
                  }
            }
            onClose={onClose}
          />
        </Flex>
        {isSaving && toSave !== null && (
          <SaveAs key={toSave.url} {...toSave} onDone={() => setSaving(false)} />
        )}
        <Text color="softInk" fontSize="xs" mb="1" className="figures" data-testid="play-state">
          {player.direction === 0
            ? `${count(head.position + 1)} of ${count(head.count)}`
            : player.shownRate === null
              ? `playing at ${rateText(shot.plan.rate)} a second`
              : `${player.shownRate.toFixed(1)} of ${rateText(shot.plan.rate)} pictures a second shown`}
          {head.between === null ? "" : ` · plays ${head.between.first} to ${head.between.last}`}
        </Text>
        {hasBefore && change.data !== undefined && <ChangeLine change={change.data} isBefore={showsBefore} />}
        {isFlagging && (
          <Box mb="2">
            <FlagForm
              sequenceId={view.id}
              frames={rangeSet(frame, frame)}
              onDone={() => setFlagging(false)}
            />
          </Box>
        )}
        {clear.isSuccess && clear.data.cleared === 0 && (
          <Text fontSize="xs" color="softInk">
            Nothing here can be taken back.
          </Text>
        )}
        {clear.error !== null && <Refusal>{messageOf(clear.error)}</Refusal>}
        <ShotBand
          focus={frame}
          onFocus={(to) => {
            player.stop();
            onFrame(to);
          }}
          onLook={onFrame}
          withLanes={false}
        />
      </Box>
    </Large>
  );
}
