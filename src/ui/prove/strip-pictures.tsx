"use client";
/** A test strip: one frame at several numbers of samples, raw and denoised, the same crop side by side. */
import { Box, Button, Flex, Grid, Image, Text } from "@chakra-ui/react";
import { useState } from "react";
import { PASSES } from "@/core/plan/passes";
import { proofUrl } from "../live/api";
import { useShotWork } from "../shot/shot-context";
import { count, duration, size } from "../words";
import { percentText } from "./words";
import type { ProofsView } from "@/contract/proof-view";

/** How much larger than whole a crop is. */
const ENLARGED = 3;

/**
 * All crops show one place of the picture: a click in any of them moves all. Picking a column writes its
 * samples into the plan.
 */
export function StripPictures({ view, frame }: { readonly view: ProofsView; readonly frame: number | null }) {
  const {
    shot,
    draft: { plan, change },
  } = useShotWork();
  const [centre, setCentre] = useState<readonly [number, number]>([0.5, 0.5]);
  const columns = view.proofs.flatMap((proof) =>
    proof.frames
      .filter(
        (f) =>
          f.cost.frame === frame &&
          f.camera === shot.sequence.camera &&
          f.passes.some((p) => p.pass === "denoised"),
      )
      .map((f) => ({ runId: proof.runId, ...f })),
  );
  // The newest of each number of samples.
  const strip = columns
    .filter((c, i) => columns.findIndex((other) => other.cost.samples === c.cost.samples) === i)
    .sort((a, b) => a.cost.samples - b.cost.samples);
  const coming = view.proofs.reduce((sum, p) => sum + p.left, 0);
  if (strip.length === 0)
    return (
      <Text color="softInk">
        {coming > 0
          ? `${count(coming)} pictures to come.`
          : "No strip of this frame yet. It shows what more samples, or denoising, would buy, and what they cost."}
      </Text>
    );
  const take = (samples: number, isDenoised: boolean): void =>
    change({
      samples,
      minSamples: Math.min(plan.minSamples, samples),
      passes: PASSES.filter((p) => (p === "denoised" ? isDenoised : plan.passes.includes(p))),
    });
  return (
    <Box>
      <Grid templateColumns={`repeat(${strip.length}, minmax(0, 1fr))`} gap="2" rowGap="1">
        {(["beauty", "denoised"] as const).flatMap((pass) =>
          strip.map((column) => {
            const picture = column.passes.find((p) => p.pass === pass);
            if (picture === undefined) return <Box key={`${pass}${column.runId}`} />;
            const { cost } = column;
            const seconds =
              cost.startupSeconds +
              cost.renderSeconds +
              cost.writeSeconds +
              (pass === "denoised" ? cost.denoiseSeconds : 0);
            return (
              <Box key={`${pass}${column.runId}`} fontSize="12px" className="figures">
                <Box
                  asChild
                  display="block"
                  w="full"
                  bg="surround"
                  aspectRatio="16 / 9"
                  position="relative"
                  overflow="hidden"
                  cursor="crosshair"
                >
                  <button
                    type="button"
                    aria-label={`${pass} at ${cost.samples} samples; a click moves the crop`}
                    onClick={(event) => {
                      const box = event.currentTarget.getBoundingClientRect();
                      // The crop stays inside the picture.
                      const move = (at: number, share: number): number =>
                        Math.max(
                          1 / ENLARGED / 2,
                          Math.min(1 - 1 / ENLARGED / 2, at + (share - 0.5) / ENLARGED),
                        );
                      setCentre([
                        move(centre[0], (event.clientX - box.left) / box.width),
                        move(centre[1], (event.clientY - box.top) / box.height),
                      ]);
                    }}
                  >
                    <Image
                      src={proofUrl(picture.sequenceId, column.runId, cost.frame, picture.content)}
                      alt=""
                      position="absolute"
                      w={`${ENLARGED * 100}%`}
                      h={`${ENLARGED * 100}%`}
                      maxW="none"
                      left={`${(0.5 - centre[0] * ENLARGED) * 100}%`}
                      top={`${(0.5 - centre[1] * ENLARGED) * 100}%`}
                      css={{ imageRendering: "pixelated" }}
                    />
                  </button>
                </Box>
                <Flex gap="2" align="baseline" flexWrap="wrap" columnGap="2">
                  <Text>
                    <b>
                      {count(cost.samples)}
                      {pass === "denoised" ? ", denoised" : ""}
                    </b>
                  </Text>
                  <Text color="softInk">
                    {duration(seconds)}, grain {percentText(picture.noise)}, {size(picture.bytes)}
                  </Text>
                  <Button size="xs" variant="plain" onClick={() => take(cost.samples, pass === "denoised")}>
                    Take
                  </Button>
                </Flex>
              </Box>
            );
          }),
        )}
      </Grid>
      {coming > 0 && (
        <Text color="petrol" fontSize="xs">
          {count(coming)} pictures to come.
        </Text>
      )}
    </Box>
  );
}
