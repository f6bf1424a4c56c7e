"use client";
/**
 * The other sequences of the version, one line each, so that "depth 3 missing" is seen; a click gives one the
 * focus.
 */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMemo, useState } from "react";
import { tallySentence } from "@/core/tally/sentence";
import { unpackTally } from "@/core/tally/packed";
import { countsOf } from "@/core/tally/tally";
import { versionName } from "@/core/plan/plan";
import { BandLine } from "../band/band-line";
import { useShortPage } from "../page/use-short-page";
import { useSequenceNow, useShotWork } from "../shot/shot-context";
import type { SiblingView } from "@/contract/sequence-view";

/** More lines than this scroll. */
const LINES_SHOWN = 3;
/** Pixels. */
const LINE_HEIGHT = 20;

/** On a short page they fold into one line that says so, and unfold with a click. */
export function Siblings() {
  const { view } = useSequenceNow();
  const others = view.siblings.filter((s) => s.id !== view.id);
  const isShort = useShortPage();
  const [isUnfolded, setUnfolded] = useState(false);
  if (others.length === 0) return null;
  if (isShort && others.length > 1 && !isUnfolded)
    return (
      <Flex gap="3" align="baseline" fontSize="12px" h={`${LINE_HEIGHT}px`} className="figures">
        <Text truncate color="softInk" title={others.map(lineOf).join("\n")}>
          {others.length} other sequences: {others.map(lineOf).join("; ")}
        </Text>
        <Button size="xs" variant="plain" h="18px" fontSize="12px" onClick={() => setUnfolded(true)}>
          Show them
        </Button>
      </Flex>
    );
  return (
    <Box
      role="group"
      aria-label="Other sequences"
      maxH={`${LINES_SHOWN * LINE_HEIGHT}px`}
      overflowY="auto"
      flexShrink={0}
    >
      {others.map((sibling) => (
        <SiblingLine key={sibling.id} sibling={sibling} />
      ))}
    </Box>
  );
}

/** "depth 93 of 96 good, 3 missing" */
function lineOf({ pass, camera, tally }: SiblingView): string {
  const { opening, results } = tallySentence(countsOf(unpackTally(tally)));
  return `${camera} ${pass} ${[opening, ...results.map((r) => r.text)].join(", ")}`;
}

/** A click shows the sequence; its band has the scale of the large one above. */
function SiblingLine({ sibling }: { readonly sibling: SiblingView }) {
  const { shot, openSequence } = useShotWork();
  const tally = useMemo(() => unpackTally(sibling.tally), [sibling.tally]);
  const { opening, results } = tallySentence(countsOf(tally));
  return (
    <Box asChild display="block" w="full" cursor="pointer" _hover={{ bg: "sheet" }}>
      <button
        type="button"
        aria-label={`Show ${sibling.camera} ${sibling.pass}`}
        onClick={() =>
          openSequence({ version: versionName(shot.sequence), camera: sibling.camera, pass: sibling.pass })
        }
      >
        <Flex gap="3" align="center" h={`${LINE_HEIGHT}px`} fontSize="12px" className="figures">
          <Text w="130px" flexShrink={0} textAlign="left" truncate>
            {shot.plan.cameras.length > 1 ? `${sibling.camera}, ` : ""}
            {sibling.pass}
          </Text>
          <Box flex="1" minW="0">
            <BandLine tally={tally} height={14} />
          </Box>
          <Text w="300px" flexShrink={0} textAlign="left" color="softInk" truncate>
            {[opening, ...results.map((r) => r.text)].join(", ")}
          </Text>
        </Flex>
      </button>
    </Box>
  );
}
