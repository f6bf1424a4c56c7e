"use client";
/** The picture on its grey surround: painted by WebGL2, zoomed by the wheel to the pointer and moved by dragging. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useImperativeHandle, useRef } from "react";
import { FITTED, type Placed } from "@/core/playback/zoom";
import type { Marked, PictureSurfaceProps } from "./surface-props";
import { usePainting } from "./use-painting";
import { useSurfacePointer } from "./use-surface-pointer";

const GRAPHICS_TEXT = {
  none: "This browser has no WebGL2: pictures of eight bits are shown as they are, and others not at all.",
  lost: "The graphics were taken away from this page. The picture comes back by itself when they do.",
} as const;

export function PictureSurface(props: PictureSurfaceProps) {
  const { handle, label, onZoom, onPoint, children } = props;
  const glass = useRef<HTMLDivElement>(null);
  const painting = usePainting(props);
  const { surface, shaded, plain, facts, graphics, onShow, painter, show, draw } = painting;
  const { enlarge, ...pointer } = useSurfacePointer(props, glass, painting);
  useImperativeHandle(handle, () => ({
    show,
    asPicture: () =>
      new Promise((resolve) => {
        draw();
        const onTop = plain.current!.style.visibility === "visible" ? plain : shaded;
        onTop.current!.toBlob(resolve, "image/png");
      }),
    first: () => onShow.current.layers[0] ?? null,
    painter: () => painter.current,
    fit: () => onZoom(FITTED),
    enlarge,
  }));
  const card = facts.card ?? (graphics !== "there" && facts.needsShader ? GRAPHICS_TEXT[graphics] : null);
  return (
    <Flex
      ref={surface}
      flex="1"
      minH="0"
      bg="surround"
      align="center"
      justify="center"
      position="relative"
      overflow="hidden"
    >
      <Box
        ref={glass}
        position="absolute"
        inset="0"
        touchAction="none"
        cursor={props.isDrawing ? "crosshair" : "default"}
        {...pointer}
        onPointerLeave={() => onPoint(null)}
        onDoubleClick={() => onZoom(FITTED)}
      >
        {([plain, shaded] as const).map((ref) => (
          <canvas
            key={ref === shaded ? "shaded" : "plain"}
            ref={ref}
            // The one that is on show is the picture.
            {...((ref === plain) === facts.isPlain
              ? { role: "img", "aria-label": label, "data-shown": facts.isShown }
              : { "aria-hidden": true })}
            style={{ position: "absolute", inset: 0, width: "100%", height: "100%" }}
          />
        ))}
      </Box>
      {facts.lies !== null && <Rectangles lies={facts.lies} rectangles={props.rectangles} />}
      {card !== null && (
        <Box
          position="relative"
          bg="surround"
          px="3"
          py="1"
          borderRadius="sm"
          pointerEvents="none"
          role="status"
        >
          <Text color="onSurround" fontSize="md">
            {card}
          </Text>
        </Box>
      )}
      <Text
        position="absolute"
        bottom="1"
        right="3"
        color="onSurround"
        fontSize="xs"
        className="figures"
        pointerEvents="none"
        data-testid="picture-size"
      >
        {facts.size}
      </Text>
      {children}
    </Flex>
  );
}

/** Over the picture, wherever it lies. */
function Rectangles({ lies, rectangles }: { readonly lies: Placed; readonly rectangles: readonly Marked[] }) {
  return rectangles.map(({ place: { left, top, width, height }, label }) => (
    <Box
      key={`${left} ${top} ${width} ${height} ${label}`}
      position="absolute"
      left={`${lies.left + left * lies.width}px`}
      top={`${lies.top + top * lies.height}px`}
      width={`${width * lies.width}px`}
      height={`${height * lies.height}px`}
      borderWidth="1px"
      borderColor="onSurround"
      outline="1px solid"
      outlineColor="surround"
      pointerEvents="none"
      data-testid="rectangle"
      title={label}
    />
  ));
}
