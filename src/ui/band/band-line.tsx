"use client";
/**
 * A whole sequence in one line, for ledgers.
 * The same data and the same marks as the large band, so that a ledger's line and the page behind it never
 * differ.
 */
import { Box } from "@chakra-ui/react";
import { useMemo } from "react";
import { tallySentence } from "@/core/tally/sentence";
import { countsOf, type Tally } from "@/core/tally/tally";
import { makeBandData } from "./band-data";
import { drawLine } from "./draw";
import { paint } from "./marks";
import { useCanvas } from "./use-canvas";

/**
 * The tally's sentence is its text for screen readers. It is drawn, not clicked: the line that it stands in
 * is the link.
 */
export function BandLine({ tally, height }: { readonly tally: Tally; readonly height: number }) {
  const data = useMemo(() => makeBandData(tally), [tally]);
  const { ref } = useCanvas(height, (canvas, palette, width) =>
    paint(canvas, drawLine(data, width, height), palette),
  );
  const { opening, results } = tallySentence(countsOf(tally));
  return (
    <Box borderBottomWidth="1px" borderColor="rule">
      <canvas
        ref={ref}
        role="img"
        aria-label={[opening, ...results.map((r) => r.text)].join(", ")}
        style={{ width: "100%", height, display: "block" }}
      />
    </Box>
  );
}
