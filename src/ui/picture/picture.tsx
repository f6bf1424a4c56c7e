"use client";
/** A picture on the viewer's neutral surround. */
import { Flex, Text } from "@chakra-ui/react";
import { useEffect, useRef, useState } from "react";
import type { PictureStore } from "./picture-store";

/**
 * The picture in exact pixels where it is smaller than its place (whole steps of enlargement), shrunk where
 * it is larger.
 */
export function Picture({
  url,
  pictures,
  message,
  label,
}: {
  /** Null while there is nothing to show. */
  readonly url: string | null;
  /** Decoded ones, shared with whoever fetches ahead. */
  readonly pictures: PictureStore;
  /** In the place of a picture that cannot be shown. */
  readonly message: string;
  /** For screen readers. */
  readonly label: string;
}) {
  const place = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [room, setRoom] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const element = place.current;
    if (element === null) return;
    const observer = new ResizeObserver(() =>
      setRoom({ width: element.clientWidth, height: element.clientHeight }),
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const image = url === null ? null : pictures.get(url);
  const hasFailed = url === null || pictures.hasFailed(url);
  const fit =
    image === null
      ? 1
      : Math.min((room.width - 32) / image.naturalWidth, (room.height - 32) / image.naturalHeight);
  const scale = fit >= 1 ? Math.floor(fit) : Math.max(0.01, fit);
  // The picture of before stays until the next is decoded: playing never flashes.
  const shown = useRef<HTMLImageElement | null>(null);
  useEffect(() => {
    const target = canvas.current;
    if (image === null || target === null) return;
    if (target.width !== image.naturalWidth || target.height !== image.naturalHeight) {
      target.width = image.naturalWidth;
      target.height = image.naturalHeight;
    }
    if (shown.current !== image) target.getContext("2d")?.drawImage(image, 0, 0);
    shown.current = image;
  });
  const isShown = !hasFailed && (image !== null || shown.current !== null);
  const sized = image ?? shown.current;
  return (
    <Flex
      ref={place}
      flex="1"
      minH="0"
      bg="surround"
      align="center"
      justify="center"
      position="relative"
      overflow="hidden"
    >
      <canvas
        ref={canvas}
        role="img"
        aria-label={label}
        data-shown={image !== null}
        style={{
          display: isShown ? "block" : "none",
          width: (sized?.naturalWidth ?? 0) * scale,
          height: (sized?.naturalHeight ?? 0) * scale,
          imageRendering: scale >= 2 ? "pixelated" : "auto",
        }}
      />
      {hasFailed && (
        <Text color="onSurround" fontSize="md">
          {message}
        </Text>
      )}
      {image !== null && !hasFailed && (
        <Text position="absolute" bottom="2" right="3" color="onSurround" fontSize="xs" className="figures">
          {image.naturalWidth} x {image.naturalHeight},{" "}
          {scale >= 1 ? `${scale} x enlarged` : `at ${Math.round(scale * 100)} %`}
        </Text>
      )}
    </Flex>
  );
}
