"use client";
/**
 * Look: a frame large on neutral grey, stepped through, played and compared, with the band under it as the scrubber.
 * What a frame is, who made it and what was found stands beside it, so that a flag is given with all facts in sight.
 * While it plays, the page under it keeps the frame that it had: it follows when the viewer stands.
 */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { FindingPlace } from "@/contract/sequence-view";
import { FrameIndex } from "@/core/frames/frame-index";
import { has, rangeSet, setOf, union } from "@/core/frames/frame-set";
import { scaledSize } from "@/core/plan/picture";
import { versionName } from "@/core/plan/plan";
import { PLAIN_READING, steppedStops } from "@/core/playback/shown-as";
import { FITTED, type Zoom } from "@/core/playback/zoom";
import { unpackSet } from "@/core/tally/packed";
import { rateText } from "@/core/timing/rate";
import { timeCode } from "@/core/timing/time-code";
import { FlagForm } from "../check/flag-form";
import { findingBeside } from "../check/step-findings";
import { findingText } from "../check/words";
import { useKept } from "../band/use-kept";
import { fileUrl, messageOf, remove } from "../live/api";
import { useAsideFiles, useFrameChange } from "../live/queries";
import { Refusal } from "../page/states";
import { Large } from "../picture/large";
import type { PictureToSave } from "../picture/save-as";
import { resultOf } from "../shot/result-of";
import { useSequenceNow, useShotWork } from "../shot/shot-context";
import { useSoFar } from "../shot/use-so-far";
import { count, duration } from "../words";
import { ChangeLine } from "./change-line";
import { ChooseVersion } from "./choose-version";
import { comparable, CompareLine } from "./compare-line";
import { FactsOnPicture } from "./facts-on-picture";
import { type Fold, FOLDS } from "./folds";
import { Folds } from "./fold-buttons";
import { LayerLabels } from "./layer-labels";
import { LookControls } from "./look-controls";
import { PictureSurface, type Pointed, type SurfaceHandle } from "./picture-surface";
import { PixelLine } from "./pixel-line";
import type { PlaySettings, Shown, ShownPicture } from "./player";
import type { Reel } from "./reel";
import { RegionLine } from "./region-line";
import { SaveLine } from "./save-line";
import { ShotBand } from "./shot-band";
import { type Compared, useComparedLayer, useComparedLayers, useMainLayer } from "./use-layers";
import { useMarks } from "./use-marks";
import { useSoundInStep } from "./use-sound-in-step";
import { useViewer } from "./use-viewer";
import { isViewing, reductionFor, screenPart, USUAL_VIEWING, type Viewing } from "./viewing";
import { PictureLine, PlayLine } from "./viewing-lines";
import { playText } from "./words";

export interface LookProps {
  /** The page's focus: where one looked is where one is afterwards. */
  readonly frame: number;
  /** Frames to play between; null for all. */
  readonly stretch: { readonly first: number; readonly last: number } | null;
  readonly onFrame: (frame: number) => void;
  readonly onClose: () => void;
}

const BEFORE: Compared = { kind: "before" };
/** Places of the layers of an onion skin, from the one that is looked at. */
const ONION_SHIFTS = [0, -1, 1] as const;

/** Lies over the page; what is under it keeps its state and rests. */
export function Look({ frame: opened, stretch, onFrame, onClose }: LookProps) {
  const { shot } = useShotWork();
  const { view, tally, files } = useSequenceNow();
  const index = useMemo(() => new FrameIndex(union(tally.asked, tally.results.extra)), [tally]);
  const placeOfFrame = (frame: number): number =>
    index.positionOf(frame) ?? index.nearestPosition(frame) ?? 0;
  const [viewing, setViewing] = useKept<Viewing>("viewing", isViewing, USUAL_VIEWING);
  const change = (next: Partial<Viewing>): void => setViewing({ ...viewing, ...next });
  const [zoom, setZoom] = useState<Zoom>(FITTED);
  const [compared, setCompared] = useState<readonly Compared[]>([]);
  const [isBefore, setBefore] = useState(false);
  const [isFlagging, setFlagging] = useState(false);
  const [isSaving, setSaving] = useState(false);
  const [pointed, setPointed] = useState<Pointed | null>(null);
  const [isDrawing, setDrawing] = useState(false);
  const [drawn, setDrawn] = useState<FindingPlace | null>(null);
  const surface = useRef<SurfaceHandle | null>(null);

  const marks = useMarks(
    index.count,
    stretch === null ? null : { first: placeOfFrame(stretch.first), last: placeOfFrame(stretch.last) },
  );
  const main = useMainLayer();
  const before = useComparedLayer(main, BEFORE);
  const others = useComparedLayers(main, compared);
  const [standing, setStanding] = useState(opened);
  const soFar = useSoFar(standing);
  const first = isBefore && before !== null ? before : main;
  const isOnion = viewing.hasNeighbours && compared.length === 0;
  const layers = useMemo(
    () => (isOnion ? [first, first, first] : [first, ...others]),
    [isOnion, first, others],
  );
  const readingOf = useCallback((layer: number) => layers[layer]?.reading ?? PLAIN_READING, [layers]);
  // Only where there is such a picture does the reel change with the frame that is looked at.
  const standsAt = soFar === null ? null : standing;
  const reel = useMemo(
    (): Reel => ({
      count: index.count,
      layers: layers.length,
      addressAt: (place, layer) => {
        const number = index.frameAt(place + (isOnion ? ONION_SHIFTS[layer]! : 0));
        if (number === null) return null;
        // A frame that is in work is seen as far as it is.
        return layers[layer]!.addressOf(number) ?? (layer === 0 && number === standsAt ? soFar : null);
      },
    }),
    [index, soFar, standsAt, layers, isOnion],
  );
  const whole = shot.plan.watched?.sequences[0]?.size ?? scaledSize(shot.plan);
  const over = reductionFor(viewing.scale, zoom, screenPart(), whole);
  const rate = viewing.rate ?? shot.plan.rate;
  const settings = useMemo(
    (): PlaySettings => ({
      first: marks.first,
      last: marks.last,
      every: viewing.every,
      ends: viewing.ends,
      holdSeconds: viewing.holdSeconds,
      rate,
      missing: viewing.missing,
      over,
      budget: viewing.budget,
    }),
    [marks.first, marks.last, viewing, rate, over],
  );
  const onSound = useRef<(frame: number) => void>(() => undefined);
  const viewer = useViewer(reel, settings, placeOfFrame(opened), (shown: Shown) => {
    surface.current?.show(shown);
    const number = index.frameAt(shown.place);
    if (number !== null) onSound.current(number);
  });
  const now = viewer?.now ?? null;
  const place = now?.place ?? placeOfFrame(opened);
  const frame = index.frameAt(place) ?? opened;
  const direction = now?.direction ?? 0;
  onSound.current = useSoundInStep(now, frame, rate, viewing.isHeard && shot.sound !== null);

  // A stretch that was opened to be played plays; the surface is new with every viewer.
  const player = viewer?.player ?? null;
  const begins = useRef(stretch !== null);
  useEffect(() => {
    player?.showAgain();
    if (begins.current) player?.play(1);
    begins.current = false;
  }, [player]);
  // Frames may come and go while one looks: the frame stays, whatever its place is then.
  const kept = useRef({ index, frame });
  useEffect(() => {
    if (kept.current.index !== index && direction === 0) player?.goTo(placeOfFrame(kept.current.frame));
    else kept.current = { index, frame };
    kept.current = { ...kept.current, index };
    // Only another set of frames moves it.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [index, frame]);
  useEffect(() => {
    if (direction !== 0) return;
    setStanding(frame);
    setDrawn(null);
    onFrame(frame);
    // The page follows the frame, not the other way round.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [frame, direction]);

  const clear = useMutation({
    mutationFn: () =>
      remove<{ cleared: number }>(`/api/sequences/${view.id}/flags`, { phrase: String(frame) }),
  });
  const file = files.at(frame);
  const aside = useAsideFiles(view.id);
  const wasReplaced = useMemo(() => unpackSet(aside.data?.frames ?? []), [aside.data]);
  const hasBefore = file !== null && file.content !== "" && has(wasReplaced, frame);
  const changed = useFrameChange(view.id, frame, file?.content ?? "", hasBefore && direction === 0);
  const address = first.addressOf(frame);
  const toSave: PictureToSave | null =
    address !== null
      ? { url: fileUrl(address), name: first.nameOf(frame) }
      : soFar === null
        ? null
        : { url: soFar, name: `${shot.code}_${frame}_so-far.jpg`, remark: "What there is so far, as JPEG." };
  const findings = view.findings.filter((f) => f.frame === frame);
  const loaded = useMemo(
    () => setOf((now?.loaded ?? []).flatMap((at) => index.frameAt(at) ?? [])),
    [now?.loaded, index],
  );
  const goToFinding = (way: 1 | -1): void => {
    const next = findingBeside(view.findings, frame, way);
    const at = next === null ? null : index.positionOf(next);
    if (at !== null) player?.goTo(at);
  };
  const cardOf = (picture: ShownPicture, at: number): string | null => {
    const number = index.frameAt(at);
    const standsIn = index.frameAt(picture.place);
    if (picture.why !== null) return `The file of frame ${standsIn} cannot be shown. ${picture.why}`;
    if (number !== standsIn) return `Frame ${number} is missing: this is ${standsIn}.`;
    if (!picture.isMissing) return null;
    const there = number === null ? null : files.at(number);
    if (there === null) return `Frame ${number} has no file.`;
    return `The file of frame ${number} has not been looked at yet.`;
  };
  const versionsOnShow = [
    versionName(shot.sequence),
    ...compared.flatMap((one) => (one.kind === "sequence" ? [one.version] : [])),
  ].filter((name, i, all) => all.indexOf(name) === i);
  const isOpen = (fold: Fold): boolean => viewing.open.includes(fold);
  const choices = comparable(shot, wasReplaced.count > 0);
  const rectangles = [
    ...findings.flatMap((f) => (f.place === null ? [] : [{ place: f.place, label: f.text }])),
    ...(drawn === null ? [] : [{ place: drawn, label: "drawn" }]),
  ];
  const facts = [
    first.nameOf(frame),
    timeCode(frame - shot.first, shot.plan.rate),
    file?.samples == null ? null : `${count(file.samples)} samples`,
    file?.node ?? null,
    file?.seconds == null ? null : duration(file.seconds),
  ];
  const box = useRef<HTMLDivElement>(null);
  const goWide = (): void => {
    if (document.fullscreenElement !== null) void document.exitFullscreen();
    else void box.current?.requestFullscreen?.();
  };
  return (
    <Large label={`Look at ${shot.code}`} testId="look" onClose={onClose}>
      <Flex ref={box} direction="column" flex="1" minH="0">
        <PictureSurface
          handle={surface}
          layers={layers.length}
          isOnion={isOnion}
          readingOf={readingOf}
          look={viewing.look}
          arrangement={viewing.arrangement}
          wipe={viewing.wipe}
          onWipe={(wipe) => change({ wipe })}
          gain={viewing.gain}
          label={`Frame ${frame}`}
          cardOf={cardOf}
          onPoint={setPointed}
          zoom={zoom}
          onZoom={setZoom}
          isDrawing={isDrawing}
          rectangles={rectangles}
          onDraw={(place, isDone) => {
            // A click is no rectangle.
            setDrawn(place.width > 0 && place.height > 0 ? place : null);
            if (isDone) setDrawing(false);
          }}
        >
          <LayerLabels
            labels={isOnion ? [] : layers.map(({ label }) => label)}
            arrangement={viewing.arrangement}
          />
          {viewing.hasFacts && <FactsOnPicture lines={[String(frame), ...facts]} />}
        </PictureSurface>
      </Flex>
      <Box px={{ base: "3", md: "6" }} pt="2" pb="3" borderTopWidth="1px" borderColor="rule">
        <Flex align="baseline" gap="4" rowGap="0" flexWrap="wrap" className="figures">
          <Text fontFamily="mono" fontSize="lg" fontWeight="700" data-testid="look-frame">
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
          <Text color="softInk" fontSize="xs" ml={{ lg: "auto" }} data-testid="play-state">
            {`${count(place + 1)} of ${count(index.count)}`}
            {now === null ? "" : ` · ${playText(now, rateText(rate))}`}
            {marks.isMarked ? ` · plays ${index.frameAt(marks.first)} to ${index.frameAt(marks.last)}` : ""}
          </Text>
        </Flex>
        <Flex my="1" gap="2" rowGap="1" flexWrap="wrap" align="center">
          {viewer !== null && (
            <LookControls
              player={viewer.player}
              now={viewer.now}
              rate={rateText(rate)}
              isMarked={marks.isMarked}
              onIn={() => marks.markIn(place)}
              onOut={() => marks.markOut(place)}
              onWhole={marks.forget}
              onEnd={(which) => viewer.player.goTo(which === "first" ? marks.first : marks.last)}
              onFinding={goToFinding}
              onFlag={() => {
                viewer.player.stop();
                setFlagging(true);
              }}
              onGood={() => clear.mutate()}
              isBefore={hasBefore ? isBefore : null}
              onBefore={() => setBefore(!isBefore)}
              onSave={
                toSave === null
                  ? null
                  : () => {
                      viewer.player.stop();
                      setSaving(true);
                    }
              }
              onStops={(way) => change({ look: steppedStops(viewing.look, way) })}
              isDrawing={isDrawing}
              onDrawing={() => {
                viewer.player.stop();
                setDrawing(!isDrawing);
              }}
              onFit={() => surface.current?.fit()}
              onEnlarge={(by) => surface.current?.enlarge(by)}
              onFullScreen={goWide}
              onClose={onClose}
            />
          )}
          <Folds
            open={viewing.open}
            onOpen={(open) => change({ open })}
            offered={choices.length > 0 ? FOLDS : FOLDS.filter((fold) => fold !== "comparing")}
          />
        </Flex>
        {isSaving && toSave !== null && (
          <SaveLine
            file={toSave}
            nameShown={`${shot.code}_${frame}_shown.png`}
            asShown={() => surface.current?.asPicture() ?? Promise.resolve(null)}
            onDone={() => setSaving(false)}
          />
        )}
        {isOpen("playing") && (
          <PlayLine
            viewing={viewing}
            onViewing={change}
            planRate={shot.plan.rate}
            hasSound={shot.sound !== null}
          />
        )}
        {isOpen("seeing") && <PictureLine viewing={viewing} onViewing={change} reading={first.reading} />}
        {isOpen("comparing") && (
          <CompareLine
            choices={choices}
            compared={compared}
            onCompared={setCompared}
            viewing={viewing}
            onViewing={change}
          />
        )}
        {isOpen("comparing") && versionsOnShow.length > 1 && (
          <ChooseVersion shot={shot} names={versionsOnShow} />
        )}
        <Flex color="softInk" fontSize="xs" minH="16px" gap="3" wrap="wrap" className="figures">
          {viewing.look.view === null && first.reading.why !== null && (
            <Text as="span" data-testid="reading">
              {first.reading.why}
            </Text>
          )}
          <PixelLine pointed={pointed} look={viewing.look} labels={layers.map(({ label }) => label)} />
        </Flex>
        {hasBefore && changed.data !== undefined && <ChangeLine change={changed.data} isBefore={isBefore} />}
        {drawn !== null && !isFlagging && (
          <RegionLine
            place={drawn}
            painted={surface.current?.first() ?? null}
            painter={surface.current?.painter() ?? null}
            look={viewing.look}
            onFlag={() => setFlagging(true)}
            onForget={() => setDrawn(null)}
          />
        )}
        {isFlagging && (
          <Box mb="2">
            <FlagForm
              sequenceId={view.id}
              frames={rangeSet(frame, frame)}
              place={drawn}
              onDone={() => {
                setFlagging(false);
                setDrawn(null);
              }}
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
          onFocus={(to) => player?.goTo(placeOfFrame(to))}
          onLook={(to) => player?.goTo(placeOfFrame(to))}
          withLanes={false}
          loaded={loaded}
        />
      </Box>
    </Large>
  );
}
