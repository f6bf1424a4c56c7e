"use client";
/** Bringing dropped files to the project: what goes on, what stopped it, and what asks for an answer. */
import { useRef, useState } from "react";
import { placeDropped } from "@/core/plan/dropped-scenes";
import { STAND_IN } from "@/core/plan/renderer";
import { messageOf } from "../live/api";
import { bringFiles, type FileToBring } from "../live/bring-files";
import type { ChosenFile } from "./dropped-files";

export type Bringing =
  | { readonly state: "idle" }
  | { readonly state: "sending"; readonly bytes: number; readonly of: number }
  | { readonly state: "failed"; readonly message: string }
  /** Some are there already: replace them, or use those that are there. */
  | {
      readonly state: "there";
      readonly names: readonly string[];
      readonly answer: (replaces: boolean) => void;
    };

/** Pictures and light probes that come with scenes: none of them is a scene. */
export const PICTURE = /\.(png|jpe?g|tiff?|exr|hdr|bmp|tga|webp|gif)$/i;

/** Which of the files are scenes, for a renderer: those of the stand-in say so themselves. */
const scenesAmong = (files: readonly ChosenFile[], renderer: string): readonly ChosenFile[] =>
  renderer === STAND_IN
    ? files.filter((file) => file.uses !== null)
    : files.filter((file) => files.length === 1 || !PICTURE.test(file.path));

export interface Bring {
  readonly bringing: Bringing;
  readonly bring: (files: readonly ChosenFile[], renderer: string) => Promise<void>;
  readonly cancel: () => void;
  readonly fail: (message: string) => void;
}

/**
 * @param ensureProject makes the project where there is none yet
 * @param onScenes hears of the scenes that are in the project now, relative to its folder
 */
export function useBringing(
  ensureProject: () => Promise<string>,
  onScenes: (project: string, scenes: readonly string[]) => Promise<void>,
): Bring {
  const [bringing, setBringing] = useState<Bringing>({ state: "idle" });
  const control = useRef<AbortController | null>(null);
  const fail = (message: string): void => setBringing({ state: "failed", message });

  const send = async (
    project: string,
    files: readonly FileToBring[],
    replaces: boolean,
  ): Promise<readonly string[]> => {
    const of = files.reduce((sum, { file }) => sum + file.size, 0);
    setBringing({ state: "sending", bytes: 0, of });
    const abort = new AbortController();
    control.current = abort;
    const told = (bytes: number): void => setBringing({ state: "sending", bytes, of });
    return (await bringFiles(project, files, replaces, told, abort.signal)).there;
  };

  const bring = async (files: readonly ChosenFile[], renderer: string): Promise<void> => {
    const scenes = scenesAmong(files, renderer);
    if (scenes.length === 0)
      return fail(
        files.find((file) => file.fault !== null)?.fault ??
          `There is no scene among ${files.length === 1 ? files[0]!.path : `these ${files.length} files`}. A scene of the stand-in renderer is a .json file with "format": "plain-tally-scene/1"; for another renderer choose it first.`,
      );
    try {
      const project = await ensureProject();
      const placed = placeDropped(files);
      const to = new Map(placed.files.map((file) => [file.path, file.to]));
      const wanted = files.map((file) => ({ to: to.get(file.path)!, file: file.file }));
      const there = await send(project, wanted, false);
      const finish = async (): Promise<void> => {
        await onScenes(
          project,
          scenes.map((scene) => `scenes/${to.get(scene.path)!}`),
        );
        setBringing({ state: "idle" });
      };
      if (there.length === 0) return await finish();
      setBringing({
        state: "there",
        names: there,
        answer: (replaces) => {
          const again = replaces ? wanted.filter((file) => there.includes(file.to)) : [];
          void send(project, again, true)
            .then(finish)
            .catch((error: unknown) => fail(messageOf(error)));
        },
      });
    } catch (error) {
      fail(
        control.current?.signal.aborted === true
          ? "Stopped. What had been brought whole is in the project's folder; nothing was begun of the rest."
          : messageOf(error),
      );
    }
  };
  return { bringing, bring, fail, cancel: () => control.current?.abort() };
}
