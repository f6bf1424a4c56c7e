"use client";
/** Look: a frame large on neutral grey, stepped through and played, with the band under it as the scrubber. */
import { Box, Button, Dialog, Flex, HStack, Portal, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { FrameIndex } from "@/core/frames/frame-index";
import { has, rangeSet, union } from "@/core/frames/frame-set";
import { unpackSet } from "@/core/tally/packed";
import { rateText } from "@/core/timing/rate";
import { FlagForm } from "../check/flag-form";
import { findingBeside } from "../check/step-findings";
import { findingText } from "../check/words";
import { beforeUrl, messageOf, pictureUrl, remove } from "../live/api";
import { useFrameChange, useAsideFiles } from "../live/queries";
import { Refusal } from "../page/states";
import { resultOf } from "../shot/result-of";
import { useShotWork, useSequenceNow } from "../shot/shot-context";
import { type Keys, useEscape, useKeys } from "../shot/use-keys";
import { useSoFar } from "../shot/use-so-far";
import { Tip } from "../theme/tip";
import { count, duration, size } from "../words";
import { PictureStore } from "./picture-store";
import { type PlayRange, usePlayer } from "./use-player";
import type { FileMeasures, FrameChangeView } from "@/contract/sequence-view";
import { ShotBand } from "./shot-band";

const WIDE_STEP = 10;
/** Pictures fetched ahead of the play head. */
const AHEAD = 24;

export interface LookProps {
  readonly frame: number;
  /** Frames to play between; null for all. */
  readonly stretch: { readonly first: number; readonly last: number } | null;
  readonly onFrame: (frame: number) => void;
  readonly onClose: () => void;
}

export function Look({ frame, stretch, onFrame, onClose }: LookProps) {
  const { shot } = useShotWork();
  const { view, tally, files } = useSequenceNow();
  const index = useMemo(() => new FrameIndex(union(tally.asked, tally.results.extra)), [tally]);
  const position = index.positionOf(frame) ?? index.nearestPosition(frame) ?? 0;
  const whole: PlayRange = { first: 0, last: Math.max(0, index.count - 1) };
  const [marks, setMarks] = useState<{ readonly first: number | null; readonly last: number | null }>(
    stretch === null
      ? { first: null, last: null }
      : { first: index.nearestPosition(stretch.first), last: index.nearestPosition(stretch.last) },
  );
  const range: PlayRange = {
    first: Math.min(marks.first ?? 0, whole.last),
    last: Math.min(marks.last ?? whole.last, whole.last),
  };
  const [isFlagging, setFlagging] = useState(false);
  const [isBefore, setBefore] = useState(false);
  const surface = useRef<HTMLDivElement>(null);
  const clear = useMutation({
    mutationFn: () =>
      remove<{ cleared: number }>(`/api/sequences/${view.id}/flags`, { phrase: String(frame) }),
  });
  const rate = shot.plan.rate.numerator / shot.plan.rate.denominator;

  const urlAt = (at: number): string | null => {
    const number = index.frameAt(at);
    const file = number === null ? null : files.at(number);
    return file === null || file.content === "" ? null : pictureUrl(view.id, number!, file.content);
  };
  const [, redraw] = useState(0);
  const [pictures] = useState(() => new PictureStore(() => redraw((n) => n + 1)));
  const player = usePlayer(position, range, rate, (at) => {
    for (let k = 1; k <= AHEAD; k++) {
      const url = urlAt(at + k * (player.direction || 1));
      if (url !== null) pictures.get(url);
    }
    const number = index.frameAt(at);
    if (number !== null) onFrame(number);
    const url = urlAt(at);
    return url !== null && pictures.get(url) !== null;
  });
  const goTo = (to: number): void => {
    player.stop();
    const number = index.frameAt(Math.max(0, Math.min(whole.last, to)));
    if (number !== null) onFrame(number);
  };
  const goToFinding = (direction: 1 | -1): void => {
    const next = findingBeside(view.findings, frame, direction);
    const at = next === null ? null : index.positionOf(next);
    if (at !== null) goTo(at);
  };
  const markIn = (): void =>
    setMarks((m) => ({ first: position, last: m.last !== null && m.last < position ? null : m.last }));
  const markOut = (): void =>
    setMarks((m) => ({ first: m.first !== null && m.first > position ? null : m.first, last: position }));
  const flag = (): void => {
    player.stop();
    setFlagging(true);
  };

  const keys: Keys = {
    ArrowLeft: (e) => goTo(position - (e.shiftKey ? WIDE_STEP : 1)),
    ArrowRight: (e) => goTo(position + (e.shiftKey ? WIDE_STEP : 1)),
    Home: () => goTo(range.first),
    End: () => goTo(range.last),
    " ": () => (player.direction === 0 ? player.play(1) : player.stop()),
    j: () => player.play(-1),
    k: () => player.stop(),
    l: () => player.play(1),
    i: markIn,
    o: markOut,
    f: flag,
    g: () => clear.mutate(),
    b: () => setBefore(!isBefore),
    "[": () => goToFinding(-1),
    "]": () => goToFinding(1),
  };
  useKeys(keys);
  useEscape(onClose);

  const file = files.at(frame);
  const soFar = useSoFar(frame);
  const aside = useAsideFiles(view.id);
  const wasReplaced = useMemo(() => unpackSet(aside.data?.frames ?? []), [aside.data]);
  const hasBefore = file !== null && file.content !== "" && has(wasReplaced, frame);
  const change = useFrameChange(view.id, frame, file?.content ?? "", hasBefore && player.direction === 0);
  const showsBefore = isBefore && hasBefore && change.data !== undefined;
  const url = showsBefore ? beforeUrl(view.id, frame, change.data.file) : (urlAt(position) ?? soFar);
  const findings = view.findings.filter((f) => f.frame === frame);
  const isMarked = marks.first !== null || marks.last !== null;
  const button = (label: string, tip: string, act: () => void) => (
    <Tip text={tip}>
      <Button size="xs" variant="outline" onClick={act}>
        {label}
      </Button>
    </Tip>
  );
  return (
    <Dialog.Root
      open
      size="full"
      motionPreset="none"
      scrollBehavior="inside"
      // Escape closes the innermost first: a flag that is being written, then Look.
      closeOnEscape={false}
      closeOnInteractOutside={false}
      initialFocusEl={() => surface.current}
    >
      <Portal>
        <Dialog.Positioner>
          <Dialog.Content
            ref={surface}
            display="flex"
            flexDirection="column"
            bg="paper"
            borderRadius="0"
            boxShadow="none"
            fontSize="sm"
            aria-label={`Look at ${shot.code}`}
            data-testid="look"
            tabIndex={-1}
            outline="none"
          >
            <Picture
              url={url}
              pictures={pictures}
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
                <HStack ml={{ lg: "auto" }} gap="2" flexWrap="wrap">
                  {button("◂ play", "Play backwards (J)", () => player.play(-1))}
                  {button("‹", "One frame back (left arrow; with Shift ten)", () => goTo(position - 1))}
                  {player.direction === 0
                    ? button("Play", `Play at ${rateText(shot.plan.rate)} a second (Space, L)`, () =>
                        player.play(1),
                      )
                    : button("Stop", "Stop (Space, K)", player.stop)}
                  {button("›", "One frame on (right arrow; with Shift ten)", () => goTo(position + 1))}
                  {button("In", "Play from here (I)", markIn)}
                  {button("Out", "Play up to here (O)", markOut)}
                  {isMarked &&
                    button("Whole", "Play the whole sequence again", () =>
                      setMarks({ first: null, last: null }),
                    )}
                  {button("‹ finding", "The finding before ([)", () => goToFinding(-1))}
                  {button("finding ›", "The next finding (])", () => goToFinding(1))}
                  {button("Flag", "Reject this frame, with a reason (F)", flag)}
                  {button("Good", "Take its flags back (G)", () => clear.mutate())}
                  {hasBefore &&
                    button(
                      isBefore ? "Now" : "Before",
                      "Shows the file that this one replaced, and back (B)",
                      () => setBefore(!isBefore),
                    )}
                  {button("Close", "Back to the bench (Escape)", onClose)}
                </HStack>
              </Flex>
              <Text color="softInk" fontSize="xs" mb="1" className="figures" data-testid="play-state">
                {player.direction === 0
                  ? `${count(position + 1)} of ${count(index.count)}`
                  : player.shownRate === null
                    ? `playing at ${rateText(shot.plan.rate)} a second`
                    : `${player.shownRate.toFixed(1)} of ${rateText(shot.plan.rate)} pictures a second shown`}
                {isMarked ? ` · plays ${index.frameAt(range.first)} to ${index.frameAt(range.last)}` : ""}
              </Text>
              {hasBefore && change.data !== undefined && (
                <ChangeLine change={change.data} isBefore={showsBefore} />
              )}
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
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}

const sideText = ({ samples, noise, bytes }: FileMeasures): string =>
  `${samples === null ? "" : `${count(samples)} samples, `}grain ${(noise * 100).toFixed(2)} %, ${size(bytes)}`;

/** The frame's file against the one it replaced. */
function ChangeLine({ change, isBefore }: { readonly change: FrameChangeView; readonly isBefore: boolean }) {
  return (
    <Text fontSize="xs" className="figures" mb="1" data-testid="frame-change">
      <Box as="span" fontWeight={isBefore ? "700" : "400"}>
        before: {sideText(change.before)}
      </Box>{" "}
      ·{" "}
      <Box as="span" fontWeight={isBefore ? "400" : "700"}>
        now: {sideText(change.now)}
      </Box>
      {change.difference === null
        ? ""
        : ` · they differ by ${(change.difference * 100).toFixed(2)} % of white`}
    </Text>
  );
}

/** The picture in exact pixels where it is smaller than its place (whole steps of enlargement), shrunk where it is larger. */
function Picture({
  url,
  pictures,
  message,
  label,
}: {
  readonly url: string | null;
  readonly pictures: PictureStore;
  readonly message: string;
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
