"use client";
/** The sound of the shot on show, decoded. */
import { useEffect, useState } from "react";
import type { ShotView } from "@/contract/shot-view";
import type { SoundSamples } from "@/core/sound/shot-sound";
import { nameOfShot, shotApi } from "../live/api";
import { decodedSound } from "./sound-store";

export type HeardSound =
  | { readonly state: "none" }
  | { readonly state: "reading" }
  | { readonly state: "heard"; readonly samples: SoundSamples }
  /** @property why the end of a sentence */
  | { readonly state: "unheard"; readonly why: string };

export function useSound(shot: ShotView): HeardSound {
  const { sound } = shot;
  const url =
    sound === null || sound.version === null
      ? null
      : `${shotApi(nameOfShot(shot))}/sound?v=${encodeURIComponent(`${sound.version}-${sound.path}`)}`;
  const [heard, setHeard] = useState<{ readonly url: string; readonly sound: HeardSound } | null>(null);
  useEffect(() => {
    if (url === null) return;
    let isOver = false;
    const tell = (of: HeardSound): void => {
      if (!isOver) setHeard({ url, sound: of });
    };
    decodedSound(url).then(
      (samples) => tell({ state: "heard", samples }),
      (error: Error) => tell({ state: "unheard", why: error.message }),
    );
    return () => {
      isOver = true;
    };
  }, [url]);
  if (sound === null) return { state: "none" };
  if (url === null) return { state: "unheard", why: "its file is not in the project's folder now" };
  return heard?.url === url ? heard.sound : { state: "reading" };
}
