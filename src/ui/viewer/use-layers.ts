"use client";
/** The pictures that are looked at together: the sequence on the page, and up to three others of the shot. */
import { useMemo } from "react";
import type { AsideFilesView } from "@/contract/sequence-view";
import type { ShotView } from "@/contract/shot-view";
import { FrameIndex } from "@/core/frames/frame-index";
import { frameName, readPlan, versionName } from "@/core/plan/plan";
import { STAND_IN } from "@/core/plan/renderer";
import { PLAIN_READING, type Reading, readingOf } from "@/core/playback/shown-as";
import { unpackSet } from "@/core/tally/packed";
import { beforeUrl, nameOfShot, pictureUrl } from "../live/api";
import { FilesByFrame } from "../live/files-by-frame";
import { useAsideFiles, useSequence, useShot } from "../live/queries";
import { useSequenceNow, useShotWork } from "../shot/shot-context";

/** What the sequence on the page is compared with. */
export type Compared =
  | { readonly kind: "before" }
  | {
      readonly kind: "sequence";
      /** Code of another shot of the project; null: of the same. */
      readonly shot: string | null;
      readonly version: string;
      readonly camera: string;
      readonly pass: string;
    };

/** In one text, as choices are kept. */
export function comparedKey(compared: Compared): string {
  if (compared.kind === "before") return "before";
  const { shot, version, camera, pass } = compared;
  return `${shot === null ? "" : `${shot}/`}${version}/${camera}/${pass}`;
}

export interface Layer {
  /** In a few words. */
  readonly label: string;
  readonly reading: Reading;
  /** Null where there is no picture. */
  readonly addressOf: (frame: number) => string | null;
  /** Name of the frame's file. */
  readonly nameOf: (frame: number) => string;
}

const NOTHING: Layer = { label: "…", reading: PLAIN_READING, addressOf: () => null, nameOf: () => "" };

function layerOf(shot: ShotView, files: FilesByFrame, label: string): Layer {
  const { sequence, plan } = shot;
  const read = readPlan(plan);
  return {
    label,
    reading: readingOf(plan, sequence.pass, plan.renderer === STAND_IN),
    addressOf: (frame) => {
      const file = files.at(frame);
      return file === null || file.content === "" ? null : pictureUrl(sequence.id, frame, file.content);
    },
    nameOf: (frame) =>
      read.ok ? frameName(read.value, { ...shot.namedAs, ...sequence }, frame) : `${shot.code}_${frame}`,
  };
}

function beforeLayer(main: Layer, sequenceId: number, aside: AsideFilesView | undefined): Layer {
  if (aside === undefined) return { ...NOTHING, label: "before" };
  const index = new FrameIndex(unpackSet(aside.frames));
  const nameOf = (frame: number): string => {
    const at = index.positionOf(frame);
    return at === null ? "" : (aside.names[at] ?? "");
  };
  return {
    label: "before",
    reading: aside.areSmall ? PLAIN_READING : main.reading,
    addressOf: (frame) => (nameOf(frame) === "" ? null : beforeUrl(sequenceId, frame, nameOf(frame))),
    nameOf,
  };
}

/** The sequence on the page. */
export function useMainLayer(): Layer {
  const { shot } = useShotWork();
  const { files } = useSequenceNow();
  return useMemo(
    () => layerOf(shot, files, `${versionName(shot.sequence)} ${shot.sequence.pass}`),
    [shot, files],
  );
}

/** One that it is compared with; null: none is. What is still being read has no pictures yet. */
export function useComparedLayer(main: Layer, compared: Compared | null): Layer | null {
  const { shot } = useShotWork();
  const { view } = useSequenceNow();
  const wanted = compared?.kind === "sequence" ? compared : null;
  const own = nameOfShot(shot);
  const other = useShot(
    { project: own.project, code: wanted?.shot ?? own.code },
    { version: wanted?.version ?? null, camera: wanted?.camera ?? null, pass: wanted?.pass ?? null },
    wanted !== null,
  );
  const ofOther = other.isPlaceholderData ? undefined : other.data;
  const sequence = useSequence(wanted === null ? undefined : ofOther?.sequence.id);
  const aside = useAsideFiles(view.id, compared?.kind === "before");
  return useMemo(() => {
    if (compared === null) return null;
    if (compared.kind === "before") return beforeLayer(main, view.id, aside.data);
    const label = `${compared.shot === null ? "" : `${compared.shot} `}${compared.version} ${compared.pass}`;
    return ofOther === undefined || sequence.data === undefined
      ? { ...NOTHING, label }
      : layerOf(ofOther, new FilesByFrame(sequence.data.files), label);
  }, [compared, main, view.id, aside.data, ofOther, sequence.data]);
}

/** Those that it is compared with, in their order; the same array as long as none has changed. */
export function useComparedLayers(main: Layer, compared: readonly Compared[]): readonly Layer[] {
  const one = useComparedLayer(main, compared[0] ?? null);
  const two = useComparedLayer(main, compared[1] ?? null);
  const three = useComparedLayer(main, compared[2] ?? null);
  return useMemo(() => [one, two, three].filter((layer) => layer !== null), [one, two, three]);
}
