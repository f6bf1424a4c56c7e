"use client";
/** The pixel under the pointer: its place, its numbers in the file, and what is shown of them; a layer each. */
import { Text } from "@chakra-ui/react";
import type { LoadedPixels } from "@/contract/picture-messages";
import type { Look } from "@/core/playback/shown-as";
import { pixelValues, type PixelValues } from "./pixel-values";
import type { Pointed } from "./surface-props";

/** Integers as integers; light to as many places as a half float has. */
const rawText = ({ raw, isBytes }: PixelValues): string =>
  raw.map((value) => (isBytes ? String(Math.round(value * 255)) : value.toPrecision(4))).join(" ");

const shownText = ({ shown }: PixelValues): string =>
  shown.map((value) => String(Math.round(value * 255))).join(" ");

export function PixelLine({
  pointed,
  look,
  behind,
  labels,
}: {
  readonly pointed: Pointed | null;
  readonly look: Look;
  /** The picture of a `picture` background. */
  readonly behind: LoadedPixels | null;
  readonly labels: readonly string[];
}) {
  const texts = pointed?.layers.map((painted, i) => {
    const values =
      painted === null ? null : pixelValues(painted, pointed.painter, look, behind, pointed.x, pointed.y);
    const label = pointed.layers.length > 1 ? `${labels[i] ?? ""} ` : "";
    return values === null
      ? `${label}nothing here`
      : `${label}holds ${rawText(values)}, shown as ${shownText(values)} of 255`;
  });
  return (
    <Text as="span" fontFamily="mono" data-testid="pixel-values">
      {pointed === null ? "" : `${pointed.x}, ${pointed.y}: ${texts!.join(" · ")}`}
    </Text>
  );
}
