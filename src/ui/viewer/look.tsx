"use client";
/**
 * Look: a frame large on neutral grey, stepped through, played and compared, with the band under it as the scrubber.
 * What a frame is, who made it and what was found stands beside it, so that a flag is given with all facts in sight.
 * While it plays, the page under it keeps the frame that it had: it follows when the viewer stands.
 */
import { Box, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import type { FindingPlace } from "@/contract/sequence-view";
import { has, rangeSet, setOf } from "@/core/frames/frame-set";
import { scaledSize } from "@/core/plan/picture";
import { versionName } from "@/core/plan/plan";
import { unpackSet } from "@/core/tally/packed";
import { timeCode } from "@/core/timing/time-code";
import { FlagForm } from "../check/flag-form";
import { findingBeside } from "../check/step-findings";
import { findingText } from "../check/words";
import { fileUrl, messageOf, nameOfShot, remove } from "../live/api";
import { useAsideFiles, useFrameChange } from "../live/queries";
import { Refusal } from "../page/states";
import { Large } from "../picture/large";
import type { PictureToSave } from "../picture/save-as";
import { resultOf } from "../shot/result-of";
import { useSequenceNow, useShotWork } from "../shot/shot-context";
import { count, duration } from "../words";
import { ChangeLine } from "./change-line";
import { ChooseVersion } from "./choose-version";
import { comparable } from "./comparable";
import { CompareLine } from "./compare-line";
import { LayerLabels } from "./layer-labels";
import { type LookActs, LookButtons, lookKeys } from "./look-buttons";
import type { ShownPicture } from "./player";
import { RegionLine } from "./region-line";
import { SaveLine } from "./save-line";
import { ShotBand } from "./shot-band";
import type { Compared } from "./use-layers";
import { useLookReel } from "./use-look-reel";
import type { Stretch } from "./use-marks";
import { usePlaying } from "./use-playing";
import { useSoundInStep } from "./use-sound-in-step";
import { ViewerPanel } from "./viewer-panel";
import { useViewing } from "./use-viewing";

export interface LookProps {
  /** The page's focus: where one looked is where one is afterwards. */
  readonly frame: number;
  /** Frames to play between; null for all. */
  readonly stretch: Stretch | null;
  readonly onFrame: (frame: number) => void;
  readonly onClose: () => void;
}

/** Lies over the page; what is under it keeps its state and rests. */
export function Look({ frame: opened, stretch, onFrame, onClose }: LookProps) {
  const { shot } = useShotWork();
  const { view, tally, files } = useSequenceNow();
  const [compared, setCompared] = useState<readonly Compared[]>([]);
  const [isBefore, setBefore] = useState(false);
  const [isFlagging, setFlagging] = useState(false);
  const [isSaving, setSaving] = useState(false);
  const [isDrawing, setDrawing] = useState(false);
  const [drawn, setDrawn] = useState<FindingPlace | null>(null);
  const kept = useViewing();
  const { viewing } = kept;
  const isOnion = viewing.hasNeighbours && compared.length === 0;
  const look = useLookReel({ opened, compared, isBefore, isOnion });
  const { reel, index, layers, readingOf, soFar } = look;
  const sound = useSoundInStep(viewing.rate ?? shot.plan.rate, viewing.isHeard);
  const playing = usePlaying({
    reel,
    kept,
    planRate: shot.plan.rate,
    size: shot.plan.watched?.sequences[0]?.size ?? scaledSize(shot.plan),
    at: reel.placeOf(opened),
    stretch,
    events: {
      onShow: ({ place, direction }) => {
        const number = index.frameAt(place);
        if (number !== null) sound.shown(number, direction);
      },
      onStand: (place, isStep) => {
        const number = index.frameAt(place);
        if (number === null) return;
        sound.stands(number, isStep);
        look.standAt(number);
        setDrawn(null);
        onFrame(number);
      },
    },
  });
  const { viewer, marks, place, surface, change } = playing;
  const player = viewer?.player ?? null;
  const frame = index.frameAt(place) ?? opened;
  const first = layers[0]!;

  const clear = useMutation({
    mutationFn: () =>
      remove<{ cleared: number }>(`/api/sequences/${view.id}/flags`, { phrase: String(frame) }),
  });
  const file = files.at(frame);
  const aside = useAsideFiles(view.id);
  const wasReplaced = useMemo(() => unpackSet(aside.data?.frames ?? []), [aside.data]);
  const hasBefore = file !== null && file.content !== "" && has(wasReplaced, frame);
  const isStanding = (viewer?.now.direction ?? 0) === 0;
  const changed = useFrameChange(view.id, frame, file?.content ?? "", hasBefore && isStanding);
  const address = first.addressOf(frame);
  const toSave: PictureToSave | null =
    address !== null
      ? { url: fileUrl(address), name: first.nameOf(frame) }
      : soFar === null
        ? null
        : { url: soFar, name: `${shot.code}_${frame}_so-far.jpg`, remark: "What there is so far, as JPEG." };
  const findings = view.findings.filter((f) => f.frame === frame);
  const inMemory = viewer?.now.loaded;
  const loaded = useMemo(
    () => setOf((inMemory ?? []).flatMap((at) => index.frameAt(at) ?? [])),
    [inMemory, index],
  );
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
    ...compared.flatMap((one) => (one.kind === "sequence" && one.shot === null ? [one.version] : [])),
  ].filter((name, i, all) => all.indexOf(name) === i);
  const acts: LookActs = {
    onFinding: (way) => {
      const next = findingBeside(view.findings, frame, way);
      const at = next === null ? null : index.positionOf(next);
      if (at !== null) player?.goTo(at);
    },
    onFlag: () => {
      player?.stop();
      setFlagging(true);
    },
    onGood: () => clear.mutate(),
    isBefore: hasBefore ? isBefore : null,
    onBefore: () => setBefore(!isBefore),
    onSave:
      toSave === null
        ? null
        : () => {
            player?.stop();
            setSaving(true);
          },
    isDrawing,
    onDrawing: () => {
      player?.stop();
      setDrawing(!isDrawing);
    },
  };
  const facts = [
    first.nameOf(frame),
    timeCode(frame - shot.first, shot.plan.rate),
    file?.samples == null ? null : `${count(file.samples)} samples`,
    file?.node ?? null,
    file?.seconds == null ? null : duration(file.seconds),
  ];
  const goToFrame = (to: number): void => player?.goTo(reel.placeOf(to));
  return (
    <Large label={`Look at ${shot.code}`} testId="look" onClose={onClose}>
      <ViewerPanel
        playing={playing}
        reel={reel}
        picture={{
          isOnion,
          readingOf,
          label: `Frame ${frame}`,
          cardOf,
          isDrawing,
          rectangles: [
            ...findings.flatMap((f) => (f.place === null ? [] : [{ place: f.place, label: f.text }])),
            ...(drawn === null ? [] : [{ place: drawn, label: "drawn" }]),
          ],
          onDraw: (rectangle, isDone) => {
            // A click is no rectangle.
            setDrawn(rectangle.width > 0 && rectangle.height > 0 ? rectangle : null);
            if (isDone) setDrawing(false);
          },
        }}
        reading={first.reading}
        labels={layers.map(({ label }) => label)}
        nameOf={(at) => String(index.frameAt(at) ?? "")}
        hasSound={shot.sound !== null}
        onPicture={[String(frame), ...facts]}
        overlay={
          <LayerLabels
            labels={isOnion ? [] : layers.map(({ label }) => label)}
            arrangement={viewing.arrangement}
          />
        }
        facts={
          <>
            <Text fontFamily="mono" fontSize="lg" fontWeight="700" data-testid="look-frame">
              {frame}
            </Text>
            <Text>
              {[resultOf(tally, frame) ?? "not in this sequence", ...facts.slice(-2)]
                .filter((part) => part !== null)
                .join(" · ")}
            </Text>
            {findings.map((f) => (
              <Text key={f.id} color="brick">
                {findingText(f)}
              </Text>
            ))}
            {sound.unheard !== null && <Text color="ochre">The sound is not heard: {sound.unheard}.</Text>}
          </>
        }
        range={marks.isMarked ? ` · plays ${index.frameAt(marks.first)} to ${index.frameAt(marks.last)}` : ""}
        keys={lookKeys(acts)}
        buttons={<LookButtons {...acts} />}
        comparing={
          <>
            <CompareLine
              shot={nameOfShot(shot)}
              choices={comparable(shot, wasReplaced.count > 0)}
              compared={compared}
              onCompared={setCompared}
              viewing={viewing}
              onViewing={change}
            />
            {versionsOnShow.length > 1 && <ChooseVersion shot={shot} names={versionsOnShow} />}
          </>
        }
        scrubber={
          <ShotBand focus={frame} onFocus={goToFrame} onLook={goToFrame} withLanes={false} loaded={loaded} />
        }
        onClose={onClose}
      >
        {isSaving && toSave !== null && (
          <SaveLine
            file={toSave}
            nameShown={`${shot.code}_${frame}_shown.png`}
            asShown={() => surface.current?.asPicture() ?? Promise.resolve(null)}
            onDone={() => setSaving(false)}
          />
        )}
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
      </ViewerPanel>
    </Large>
  );
}
