"use client";
/** Proofs large: what the renderer made beside what denoising made of it, or any other pass; frame by frame, or in motion. */
import { Box, Text } from "@chakra-ui/react";
import { useCallback, useMemo, useState } from "react";
import type { ProofFrame, ProofPass, ProofView } from "@/contract/proof-view";
import { extensionOf, writtenFormat } from "@/core/image/file-format";
import { scaledSize } from "@/core/plan/picture";
import { STAND_IN } from "@/core/plan/renderer";
import { PLAIN_READING, readingOf } from "@/core/playback/shown-as";
import { Select } from "../fields/fields";
import { fileUrl, proofUrl } from "../live/api";
import { Large } from "../picture/large";
import { SaveAs } from "../picture/save-as";
import { ArrangementChoice } from "../viewer/arrangement-choice";
import { LayerLabels } from "../viewer/layer-labels";
import { BY_PLACE, type Reel } from "../viewer/reel";
import { ViewerButton } from "../viewer/transport";
import { usePlaying } from "../viewer/use-playing";
import { useViewing } from "../viewer/use-viewing";
import { ViewerPanel } from "../viewer/viewer-panel";
import { count, duration } from "../words";
import { percentText } from "./words";
import { SettingsLine } from "../viewer/settings-line";

/** What stands beside the picture: another pass, or nothing. */
const ALONE = "";

interface Pair {
  readonly left: string;
  readonly right: string;
}

const passOf = (frame: ProofFrame | undefined, name: string): ProofPass | undefined =>
  frame?.passes.find(({ pass }) => pass === name);

/** The raw picture first, and the denoised where there is one. */
function firstPair(frame: ProofFrame): Pair {
  return {
    left: passOf(frame, "beauty") === undefined ? frame.passes[0]!.pass : "beauty",
    right: passOf(frame, "denoised") === undefined ? ALONE : "denoised",
  };
}

/** What people call them beside one another. */
const PASS_TEXT: Readonly<Partial<Record<string, string>>> = { beauty: "raw", denoised: "denoised" };
const textOf = (pass: string): string => PASS_TEXT[pass] ?? pass;

const urlOf = (proof: ProofView, frame: ProofFrame, pass: ProofPass): string =>
  proofUrl(pass.sequenceId, proof.runId, frame.cost.frame, pass.content);

function reelOf(proof: ProofView, passes: readonly string[]): Reel {
  return {
    count: proof.frames.length,
    layers: passes.length,
    addressAt: (place, layer) => {
      const frame = proof.frames[place];
      const pass = passOf(frame, passes[layer] ?? ALONE);
      return frame === undefined || pass === undefined ? null : urlOf(proof, frame, pass);
    },
    ...BY_PLACE,
  };
}

export function ProofLook({
  proof,
  index,
  onIndex,
  onClose,
}: {
  readonly proof: ProofView;
  /** Of the frame in the proof. */
  readonly index: number;
  readonly onIndex: (index: number) => void;
  readonly onClose: () => void;
}) {
  const { plan } = proof;
  const kept = useViewing();
  const [pair, setPair] = useState<Pair>(() => firstPair(proof.frames[index] ?? proof.frames[0]!));
  const { left, right } = pair;
  const passes = useMemo(() => (right === ALONE ? [left] : [left, right]), [left, right]);
  const reel = useMemo(() => reelOf(proof, passes), [proof, passes]);
  const readings = useMemo(
    () =>
      proof.frames[0]!.passes.map(
        ({ pass }) => [pass, readingOf(plan, pass, plan.renderer === STAND_IN)] as const,
      ),
    [proof.frames, plan],
  );
  const readAs = useCallback(
    (layer: number) => readings.find(([pass]) => pass === passes[layer])?.[1] ?? PLAIN_READING,
    [readings, passes],
  );
  const [saving, setSaving] = useState<string | null>(null);
  const playing = usePlaying({
    reel,
    kept,
    planRate: plan.rate,
    size: scaledSize(plan),
    at: index,
    stretch: null,
    events: { onShow: () => undefined, onStand: onIndex },
  });
  const { viewer, place } = playing;
  const frame = proof.frames[place] ?? proof.frames[0]!;
  const { cost, camera } = frame;
  const choice = (label: string, value: string, onChange: (pass: string) => void, mayBeNone: boolean) => (
    <Box w="auto">
      <Select
        label={label}
        value={value}
        options={[
          ...(mayBeNone ? [[ALONE, "nothing beside it"] as const] : []),
          ...frame.passes.map((p) => [p.pass, textOf(p.pass)] as const),
        ]}
        onChange={onChange}
      />
    </Box>
  );
  const labels = passes.map((name) => {
    const pass = passOf(frame, name);
    return pass === undefined ? textOf(name) : `${textOf(name)}, grain ${percentText(pass.noise)}`;
  });
  const saved = passOf(frame, saving ?? ALONE);
  return (
    <Large label={`Look at proof ${proof.runId}`} testId="proof-look" onClose={onClose}>
      <ViewerPanel
        playing={playing}
        reel={reel}
        picture={{
          readingOf: readAs,
          label: `Frame ${cost.frame}, ${passes.map(textOf).join(" and ")}`,
          cardOf: ({ why, isMissing }) =>
            why ?? (isMissing ? `There is no ${textOf(left)} of frame ${cost.frame}.` : null),
        }}
        reading={readAs(0)}
        labels={labels}
        nameOf={(at) => String(proof.frames[at]?.cost.frame ?? "")}
        onPicture={[String(cost.frame), camera, `${count(cost.samples)} samples`, cost.node]}
        overlay={<LayerLabels labels={labels} arrangement={kept.viewing.arrangement} />}
        facts={
          <>
            <Text fontFamily="mono" fontSize="lg" fontWeight="700">
              {cost.frame}
            </Text>
            <Text>
              Proof {proof.runId}, {camera}, {count(cost.samples)} samples,{" "}
              {duration(cost.renderSeconds + cost.denoiseSeconds)} on {cost.node}
            </Text>
          </>
        }
        buttons={passes.map((name) => (
          <ViewerButton
            key={name}
            label={`Save ${textOf(name)}…`}
            tip={`Save the file of the ${textOf(name)} picture`}
            act={() => {
              viewer?.player.stop();
              setSaving(name);
            }}
          />
        ))}
        comparing={
          <SettingsLine label="What is compared">
            {choice("First picture", left, (next) => setPair({ left: next, right }), false)}
            <Text fontSize="xs" color="softInk">
              compared with
            </Text>
            {choice("Compared with", right, (next) => setPair({ left, right: next }), true)}
            <ArrangementChoice others={passes.length - 1} viewing={kept.viewing} onViewing={kept.change} />
          </SettingsLine>
        }
        scrubber={null}
        onClose={onClose}
      >
        {saved !== undefined && (
          <SaveAs
            key={saved.pass}
            url={fileUrl(urlOf(proof, frame, saved))}
            name={`proof-${proof.runId}_${camera}_${saved.pass}.${String(cost.frame).padStart(4, "0")}.${extensionOf(writtenFormat(plan.file))}`}
            onDone={() => setSaving(null)}
          />
        )}
      </ViewerPanel>
    </Large>
  );
}
