"use client";
/**
 * The edit as one: its shots in its order, with what it uses of each; holes and missing frames are told. It plays as a
 * sequence does in Look, with the same settings.
 */
import { Flex, Text } from "@chakra-ui/react";
import { useRouter } from "next/navigation";
import { useCallback, useMemo } from "react";
import type { EditView } from "@/contract/edit-view";
import { timeCode } from "@/core/timing/time-code";
import { messageOf, projectPage } from "../live/api";
import { useEdit } from "../live/queries";
import { Header } from "../page/header";
import { Loading, Trouble } from "../page/states";
import { useEscape } from "../page/use-keys";
import type { ShownPicture } from "../viewer/player";
import { usePlaying } from "../viewer/use-playing";
import { useViewing } from "../viewer/use-viewing";
import { ViewerPanel } from "../viewer/viewer-panel";
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

const USUAL_SIZE = { width: 1920, height: 1080 } as const;
/** The page has nothing to do when it stands, and nothing beside painting. */
const NO_EVENTS = { onShow: () => undefined, onStand: () => undefined } as const;

function EditLook({ view }: { readonly view: EditView }) {
  const router = useRouter();
  const reel = useMemo(() => makeEditReel(view), [view]);
  const playing = usePlaying({
    reel,
    kept: useViewing(),
    planRate: view.project.rate,
    size: view.shots[0]?.size ?? USUAL_SIZE,
    at: 0,
    stretch: null,
    events: NO_EVENTS,
  });
  const { place, viewer } = playing;
  const at = reel.placeAt(place);
  const readingOf = useCallback((_layer: number, of: number) => reel.readingAt(of), [reel]);
  const close = (): void => router.push(projectPage(view.project.slug));
  useEscape(close);
  const nameOf = (of: number): string => {
    const there = reel.placeAt(of);
    return there?.shot == null ? "hole" : `${there.shot.code} ${there.frame}`;
  };
  const cardOf = (picture: ShownPicture, shownPlace: number): string | null => {
    const there = reel.placeAt(shownPlace);
    if (there === null) return "The edit has no place.";
    if (there.shot === null)
      return there.stretch.code === null
        ? "Nothing is here in the edit."
        : `${there.stretch.code} has no frames.`;
    if (picture.why !== null) return `${nameOf(shownPlace)} cannot be shown. ${picture.why}`;
    const isMissing = picture.isMissing || picture.place !== shownPlace;
    return isMissing ? `${nameOf(shownPlace)} is missing.` : null;
  };
  return (
    <Flex as="main" direction="column" flex="1" minH="0" data-testid="look">
      <ViewerPanel
        playing={playing}
        reel={reel}
        picture={{ readingOf, label: nameOf(place), cardOf }}
        reading={reel.readingAt(place)}
        labels={[""]}
        nameOf={nameOf}
        onPicture={[nameOf(place), timeCode(place, view.project.rate), at?.shot?.version ?? null]}
        facts={
          <>
            <Text fontFamily="mono" fontSize="lg" fontWeight="700" data-testid="edit-frame">
              {nameOf(place)}
            </Text>
            <Text>
              {view.name} · {timeCode(place, view.project.rate)}
              {at?.shot == null ? "" : ` · ${at.shot.version} ${at.shot.pass}`}
            </Text>
          </>
        }
        scrubber={
          <EditStrip
            stretches={view.stretches}
            count={reel.count}
            place={place}
            loaded={viewer?.now.loaded ?? []}
            onPlace={(to) => viewer?.player.goTo(to)}
          />
        }
        onClose={close}
      />
    </Flex>
  );
}
