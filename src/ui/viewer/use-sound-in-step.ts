"use client";
import { useCallback, useEffect, useRef } from "react";
import type { Rate } from "@/core/timing/rate";
import { useShotWork } from "../shot/shot-context";
import { useSound } from "../shot/use-sound";
import type { PlayerSnapshot } from "./player";
import { SoundInStep } from "./sound-in-step";

const perSecond = ({ numerator, denominator }: Rate): number => numerator / denominator;

/**
 * @param frame that is on show
 * @param playedAt pictures a second
 * @returns called for each picture that is shown, with its frame
 */
export function useSoundInStep(
  now: PlayerSnapshot | null,
  frame: number,
  playedAt: Rate,
  isHeard: boolean,
): (frame: number) => void {
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
  const secondsOf = (number: number): number =>
    (number - timeLine.first - offset) / perSecond(rate) - (shot.sound?.offset ?? 0);
  const direction = now?.direction ?? 0;
  const stood = useRef(frame);
  useEffect(() => {
    if (direction === 1) return;
    sound.current?.silence();
    if (direction === 0 && stood.current !== frame)
      sound.current?.scrub(secondsOf(frame), 1 / perSecond(rate));
    stood.current = frame;
    // Steps alone are heard: what the sound is does not change with the frame.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [direction, frame]);
  const latest = useRef({ direction, secondsOf, speed: perSecond(playedAt) / perSecond(rate) });
  latest.current = { direction, secondsOf, speed: perSecond(playedAt) / perSecond(rate) };
  return useCallback((shown: number): void => {
    const { direction: way, secondsOf: at, speed } = latest.current;
    if (way === 1) sound.current?.follow(at(shown), speed);
  }, []);
}
