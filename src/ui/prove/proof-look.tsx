"use client";
/** A proof large: what the renderer made beside what denoising made of it, or any other pass; frame by frame. */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMemo, useState } from "react";
import type { ProofFrame, ProofPass, ProofView } from "@/contract/proof-view";
import { extensionOf, writtenFormat } from "@/core/image/file-format";
import { Select } from "../fields/fields";
import { fileUrl, proofUrl } from "../live/api";
import { Large } from "../picture/large";
import { Picture } from "../picture/picture";
import { usePictureStore } from "../picture/use-picture-store";
import { SaveAs } from "../picture/save-as";
import { useKeys } from "../page/use-keys";
import { count, duration } from "../words";
import { percentText } from "./words";

/** What stands beside the picture: another pass, or nothing. */
const ALONE = "";

/** The raw picture on the left, and the denoised on the right where there is one. */
function firstPair({ passes }: ProofFrame): { readonly left: string; readonly right: string } {
  const has = (pass: string): boolean => passes.some((p) => p.pass === pass);
  return { left: has("beauty") ? "beauty" : passes[0]!.pass, right: has("denoised") ? "denoised" : ALONE };
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
  const frame = proof.frames[Math.min(index, proof.frames.length - 1)]!;
  const usual = useMemo(() => firstPair(frame), [frame]);
  const [pair, setPair] = useState<{ readonly left: string; readonly right: string } | null>(null);
  const { left, right } = pair ?? usual;
  const [saving, setSaving] = useState<string | null>(null);
  const step = (by: number): void => onIndex(Math.max(0, Math.min(proof.frames.length - 1, index + by)));
  useKeys({ ArrowLeft: () => step(-1), ArrowRight: () => step(1) });
  const shown = [left, right].flatMap((name) => {
    const pass = frame.passes.find((p) => p.pass === name);
    return pass === undefined ? [] : [pass];
  });
  const choice = (label: string, value: string, onChange: (pass: string) => void, mayBeNone: boolean) => (
    <Box w="170px">
      <Select
        label={label}
        value={value}
        options={[
          ...(mayBeNone ? [[ALONE, "nothing beside it"] as const] : []),
          ...frame.passes.map((p) => [p.pass, PASS_TEXT[p.pass] ?? p.pass] as const),
        ]}
        onChange={onChange}
      />
    </Box>
  );
  const saved = shown.find((p) => p.pass === saving);
  return (
    <Large label={`Look at proof ${proof.runId}`} testId="proof-look" onClose={onClose}>
      <Flex flex="1" minH="0" gap="1px" bg="rule">
        {shown.map((pass) => (
          <ProofPane key={pass.pass} proof={proof} frame={frame} pass={pass} />
        ))}
      </Flex>
      <Box px={{ base: "3", md: "6" }} pt="2" pb="3" borderTopWidth="1px" borderColor="rule">
        <Flex gap="4" rowGap="2" align="center" flexWrap="wrap" className="figures">
          <Text fontFamily="mono" fontSize="lg" fontWeight="700">
            {frame.cost.frame}
          </Text>
          <Text>
            Proof {proof.runId}, {frame.camera}, {count(frame.cost.samples)} samples,{" "}
            {duration(frame.cost.renderSeconds + frame.cost.denoiseSeconds)} on {frame.cost.node}
          </Text>
          <Flex gap="2" ms="auto" align="center">
            {choice("On the left", left, (next) => setPair({ left: next, right }), false)}
            <Text>beside</Text>
            {choice("On the right", right, (next) => setPair({ left, right: next }), true)}
            <Button size="xs" variant="outline" disabled={index === 0} onClick={() => step(-1)}>
              ‹
            </Button>
            <Button
              size="xs"
              variant="outline"
              disabled={index >= proof.frames.length - 1}
              onClick={() => step(1)}
            >
              ›
            </Button>
            {shown.map((pass) => (
              <Button key={pass.pass} size="xs" variant="outline" onClick={() => setSaving(pass.pass)}>
                Save {PASS_TEXT[pass.pass] ?? pass.pass}…
              </Button>
            ))}
            <Button size="xs" variant="outline" onClick={onClose}>
              Close
            </Button>
          </Flex>
        </Flex>
        {saved !== undefined && (
          <SaveAs
            key={saved.pass}
            url={fileUrl(urlOf(proof, frame, saved))}
            name={`proof-${proof.runId}_${frame.camera}_${saved.pass}.${String(frame.cost.frame).padStart(4, "0")}.${extensionOf(writtenFormat(proof.plan.file))}`}
            onDone={() => setSaving(null)}
          />
        )}
      </Box>
    </Large>
  );
}

/** What people call them beside one another. */
const PASS_TEXT: Readonly<Partial<Record<string, string>>> = { beauty: "raw", denoised: "denoised" };

const urlOf = (proof: ProofView, frame: ProofFrame, pass: ProofPass): string =>
  proofUrl(pass.sequenceId, proof.runId, frame.cost.frame, pass.content);

/** One pass, as its file holds it. */
function ProofPane({
  proof,
  frame,
  pass,
}: {
  readonly proof: ProofView;
  readonly frame: ProofFrame;
  readonly pass: ProofPass;
}) {
  const pictures = usePictureStore();
  return (
    <Flex direction="column" flex="1" minW="0" bg="surround">
      <Text color="onSurround" fontSize="xs" px="3" pt="2" className="figures">
        {PASS_TEXT[pass.pass] ?? pass.pass}, grain {percentText(pass.noise)}
      </Text>
      <Picture
        url={urlOf(proof, frame, pass)}
        pictures={pictures}
        message="This picture cannot be shown."
        label={`Frame ${frame.cost.frame}, ${PASS_TEXT[pass.pass] ?? pass.pass}`}
      />
    </Flex>
  );
}
