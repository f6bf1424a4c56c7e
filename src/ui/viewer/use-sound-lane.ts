"use client";
/** The lane of the band that shows where the shot's sound is loud. */
import { useMemo } from "react";
import { members } from "@/core/frames/frame-set";
import { loudestOfFrames } from "@/core/sound/shot-sound";
import type { SoundLane } from "../band/lanes";
import { useSequenceNow, useShotWork } from "../shot/shot-context";
import { useSound } from "../shot/use-sound";

/** Null where the shot has none. By the saved plan: the strokes are that one's, too. */
export function useSoundLane(): SoundLane | null {
  const { shot } = useShotWork();
  const { asked } = useSequenceNow().tally;
  const heard = useSound(shot);
  const { sound, plan } = shot;
  const samples = heard.state === "heard" ? heard.samples : null;
  const loudness = useMemo(() => {
    if (sound === null || samples === null) return null;
    const numbers = [...members(asked)];
    const values = loudestOfFrames(samples, sound, plan, numbers);
    return new Map(numbers.map((number, i) => [number, values[i] ?? null]));
  }, [samples, sound, plan, asked]);
  const why = heard.state === "unheard" ? heard.why : null;
  return useMemo(() => {
    if (sound === null) return null;
    const file = sound.path.slice(sound.path.lastIndexOf("/") + 1);
    return {
      name: why === null ? file : `${file}: ${why}`,
      loudness: (frame) => loudness?.get(frame) ?? null,
    };
  }, [sound, loudness, why]);
}
