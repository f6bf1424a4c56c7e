"use client";
import { useEffect, useMemo, useRef } from "react";
import type { Rate } from "@/core/timing/rate";
import { useShotWork } from "../shot/shot-context";
import { useSound } from "../shot/use-sound";
import type { Shown } from "./player";
import { SoundInStep } from "./sound-in-step";

const perSecond = ({ numerator, denominator }: Rate): number => numerator / denominator;

export interface HeardInStep {
  /** A picture is on show. */
  readonly shown: (frame: number, direction: Shown["direction"]) => void;
  /** It stands. @param isStep the frame is heard */
  readonly stands: (frame: number, isStep: boolean) => void;
  /** Why the shot's sound is not heard, as the end of a sentence; null where it is, or there is none. */
  readonly unheard: string | null;
}

/** @param playedAt pictures a second */
export function useSoundInStep(playedAt: Rate, isHeard: boolean): HeardInStep {
  const { shot } = useShotWork();
  const heard = useSound(shot);
  const samples = heard.state === "heard" ? heard.samples : null;
  const sound = useRef<SoundInStep | null>(null);
  useEffect(() => {
    if (samples === null || !isHeard) return;
    sound.current = new SoundInStep(samples);
    return () => {
      sound.current?.close();
      sound.current = null;
    };
  }, [samples, isHeard]);
  const { rate, timeLine, offset } = shot.plan;
  const latest = useRef({ begins: 0, speed: 1, frameSeconds: 1 });
  latest.current = {
    // File number at which the sound's own time is 0, in seconds of the plan.
    begins: (timeLine.first + offset) / perSecond(rate) + (shot.sound?.offset ?? 0),
    speed: perSecond(playedAt) / perSecond(rate),
    frameSeconds: 1 / perSecond(rate),
  };
  const calls = useMemo(() => {
    const secondsOf = (frame: number): number => frame * latest.current.frameSeconds - latest.current.begins;
    return {
      shown: (frame: number, direction: Shown["direction"]): void => {
        if (direction === 1) sound.current?.follow(secondsOf(frame), latest.current.speed);
        else if (direction === -1) sound.current?.silence();
      },
      stands: (frame: number, isStep: boolean): void => {
        if (isStep) sound.current?.scrub(secondsOf(frame), latest.current.frameSeconds);
        else sound.current?.silence();
      },
    };
  }, []);
  return { ...calls, unheard: heard.state === "unheard" && isHeard ? heard.why : null };
}
