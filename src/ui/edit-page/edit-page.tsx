"use client";
/**
 * The edit as one: its shots in its order, with what it uses of each; holes and missing frames are told. It plays as a
 * sequence does in Look, with the same settings.
 */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useRouter } from "next/navigation";
import { useCallback, useMemo, useRef, useState } from "react";
import type { EditView } from "@/contract/edit-view";
import { steppedStops } from "@/core/playback/shown-as";
import { FITTED, type Zoom } from "@/core/playback/zoom";
import { rateText } from "@/core/timing/rate";
import { timeCode } from "@/core/timing/time-code";
import { useKept } from "../band/use-kept";
import { messageOf, projectPage } from "../live/api";
import { useEdit } from "../live/queries";
import { Header } from "../page/header";
import { Loading, Trouble } from "../page/states";
import { useEscape } from "../page/use-keys";
import { FOLDS, type Fold } from "../viewer/folds";
import { Folds } from "../viewer/fold-buttons";
import { PictureSurface, type Pointed, type SurfaceHandle } from "../viewer/picture-surface";
import { PixelLine } from "../viewer/pixel-line";
import type { PlaySettings, ShownPicture } from "../viewer/player";
import { Transport } from "../viewer/transport";
import { useMarks } from "../viewer/use-marks";
import { useViewer } from "../viewer/use-viewer";
import { isViewing, reductionFor, screenPart, USUAL_VIEWING, type Viewing } from "../viewer/viewing";
import { PictureLine, PlayLine } from "../viewer/viewing-lines";
import { playText } from "../viewer/words";
import { makeEditReel } from "./edit-reel-layer";
import { EditStrip } from "./edit-strip";

export function EditPage({ project }: { readonly project: string }) {
  const edit = useEdit(project);
  return (
    <Flex direction="column" h="100vh">
      <Header project={edit.data?.project ?? null} />
      {edit.data !== undefined ? (
        <EditLook view={edit.data} />
      ) : edit.error !== null ? (
        <Trouble title="The edit cannot be played" message={messageOf(edit.error)} />
      ) : (
        <Loading what="the edit" />
      )}
    </Flex>
  );
}

const NOTHING_DRAWN = (): void => undefined;
const USUAL_SIZE = { width: 1920, height: 1080 } as const;

function EditLook({ view }: { readonly view: EditView }) {
  const router = useRouter();
  const reel = useMemo(() => makeEditReel(view), [view]);
  const [viewing, setViewing] = useKept<Viewing>("viewing", isViewing, USUAL_VIEWING);
  const change = (next: Partial<Viewing>): void => setViewing({ ...viewing, ...next });
  const [zoom, setZoom] = useState<Zoom>(FITTED);
  const [pointed, setPointed] = useState<Pointed | null>(null);
  const surface = useRef<SurfaceHandle | null>(null);
  const box = useRef<HTMLDivElement>(null);
  const marks = useMarks(reel.count, null);
  const rate = viewing.rate ?? view.project.rate;
  const over = reductionFor(viewing.scale, zoom, screenPart(), view.shots[0]?.size ?? USUAL_SIZE);
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
  const viewer = useViewer(reel, settings, 0, (shown) => surface.current?.show(shown));
  const now = viewer?.now ?? null;
  const place = now?.place ?? 0;
  const at = reel.placeAt(place);
  const reading = reel.readingAt(place);
  const readingOf = useCallback((_layer: number, at: number) => reel.readingAt(at), [reel]);
  const close = (): void => router.push(projectPage(view.project.slug));
  useEscape(close);
  const cardOf = (picture: ShownPicture, shownPlace: number): string | null => {
    const there = reel.placeAt(shownPlace);
    if (there === null) return "The edit has no place.";
    if (there.shot === null)
      return there.stretch.code === null
        ? "Nothing is here in the edit."
        : `${there.stretch.code} has no frames.`;
    if (picture.why !== null) return `${there.shot.code} ${there.frame} cannot be shown. ${picture.why}`;
    if (picture.place !== shownPlace) return `${there.shot.code} ${there.frame} is missing.`;
    return picture.isMissing ? `${there.shot.code} ${there.frame} is missing.` : null;
  };
  const isOpen = (fold: Fold): boolean => viewing.open.includes(fold);
  const goWide = (): void => {
    if (document.fullscreenElement !== null) void document.exitFullscreen();
    else void box.current?.requestFullscreen();
  };
  return (
    <Flex as="main" direction="column" flex="1" minH="0" data-testid="look">
      <Flex ref={box} direction="column" flex="1" minH="0">
        <PictureSurface
          handle={surface}
          layers={1}
          readingOf={readingOf}
          look={viewing.look}
          arrangement="beside"
          wipe={viewing.wipe}
          onWipe={NOTHING_DRAWN}
          gain={1}
          label={at?.shot == null ? "Nothing" : `${at.shot.code} ${at.frame}`}
          cardOf={cardOf}
          onPoint={setPointed}
          zoom={zoom}
          onZoom={setZoom}
          isDrawing={false}
          rectangles={[]}
          onDraw={NOTHING_DRAWN}
        />
      </Flex>
      <Box px={{ base: "3", md: "6" }} pt="2" pb="3" borderTopWidth="1px" borderColor="rule">
        <Flex align="baseline" gap="4" rowGap="0" flexWrap="wrap" className="figures">
          <Text fontFamily="mono" fontSize="lg" fontWeight="700" data-testid="edit-frame">
            {at?.shot == null ? "hole" : `${at.shot.code} ${at.frame}`}
          </Text>
          <Text>
            {view.name} · {timeCode(place, view.project.rate)}
            {at?.shot == null ? "" : ` · ${at.shot.version} ${at.shot.pass}`}
          </Text>
          <Text color="softInk" fontSize="xs" ml={{ lg: "auto" }} data-testid="play-state">
            {`${place + 1} of ${reel.count}`}
            {now === null ? "" : ` · ${playText(now, rateText(rate))}`}
          </Text>
        </Flex>
        <Flex my="1" gap="2" rowGap="1" flexWrap="wrap" align="center">
          {viewer !== null && (
            <Transport
              player={viewer.player}
              now={viewer.now}
              rate={rateText(rate)}
              isMarked={marks.isMarked}
              onIn={() => marks.markIn(place)}
              onOut={() => marks.markOut(place)}
              onWhole={marks.forget}
              onEnd={(which) => viewer.player.goTo(which === "first" ? marks.first : marks.last)}
              onStops={(way) => change({ look: steppedStops(viewing.look, way) })}
              onFit={() => surface.current?.fit()}
              onEnlarge={(by) => surface.current?.enlarge(by)}
              onFullScreen={goWide}
              onClose={close}
              keys={{}}
            />
          )}
          <Folds
            open={viewing.open}
            onOpen={(open) => change({ open })}
            offered={FOLDS.filter((fold) => fold !== "comparing")}
          />
        </Flex>
        {isOpen("playing") && (
          <PlayLine viewing={viewing} onViewing={change} planRate={view.project.rate} hasSound={false} />
        )}
        {isOpen("seeing") && <PictureLine viewing={viewing} onViewing={change} reading={reading} />}
        <Flex color="softInk" fontSize="xs" minH="16px" gap="3" wrap="wrap" className="figures">
          {viewing.look.view === null && reading.why !== null && <Text as="span">{reading.why}</Text>}
          <PixelLine pointed={pointed} look={viewing.look} labels={[""]} />
        </Flex>
        <EditStrip
          stretches={view.stretches}
          count={reel.count}
          place={place}
          loaded={now?.loaded ?? []}
          onPlace={(to) => viewer?.player.goTo(to)}
        />
      </Box>
    </Flex>
  );
}
