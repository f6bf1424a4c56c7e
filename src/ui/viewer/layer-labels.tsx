"use client";
/** Which picture is which, where several are on show. */
import { Box } from "@chakra-ui/react";
import type { Arrangement } from "./arrangement";

interface Corner {
  readonly left?: string;
  readonly right?: string;
  readonly top: string;
}

/** Beside one another each in its part; with a wipe on either side; else in one line. */
function cornerOf(arrangement: Arrangement, i: number, count: number): Corner {
  if (arrangement === "beside")
    return { left: i % 2 === 0 ? "0%" : "50%", top: count > 2 && i > 1 ? "50%" : "0%" };
  return i === 0 ? { left: "0%", top: "0%" } : { right: "0%", top: "0%" };
}

export function LayerLabels({
  labels,
  arrangement,
}: {
  readonly labels: readonly string[];
  readonly arrangement: Arrangement;
}) {
  if (labels.length < 2) return null;
  const isOneLine = arrangement === "blink" || arrangement === "difference";
  const shown = isOneLine ? [labels.join(arrangement === "blink" ? " / " : " − ")] : labels;
  return (
    <>
      {shown.map((label, i) => (
        <Box
          key={`${label} ${i}`}
          position="absolute"
          {...cornerOf(arrangement, i, shown.length)}
          m="1"
          px="2"
          bg="surround"
          color="onSurround"
          fontFamily="mono"
          fontSize="xs"
          pointerEvents="none"
          data-testid="layer-label"
        >
          {label}
        </Box>
      ))}
    </>
  );
}
