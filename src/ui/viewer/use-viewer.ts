"use client";
/** A player for as long as the viewer is open, and what it tells. */
import { useEffect, useRef, useState, useSyncExternalStore } from "react";
import { PictureLoader } from "./picture-loader";
import { Player, type PlayerEvents, type PlayerSnapshot, type PlaySettings } from "./player";
import type { Reel } from "./reel";

export interface Viewer {
  readonly player: Player;
  /** Some times a second while it plays. */
  readonly now: PlayerSnapshot;
}

const NEVER = (): (() => void) => () => undefined;

/**
 * @param place that it begins at
 * @returns null in the first moment
 */
export function useViewer(
  reel: Reel,
  settings: PlaySettings,
  place: number,
  events: PlayerEvents,
): Viewer | null {
  const [player, setPlayer] = useState<Player | null>(null);
  const begin = useRef({ reel, settings, place });
  const latest = useRef(events);
  latest.current = events;
  useEffect(() => {
    const { reel: first, settings: usual, place: at } = begin.current;
    const own = new Player(new PictureLoader(), first, usual, at, {
      onShow: (shown) => latest.current.onShow(shown),
      onStand: (stands, isStep) => latest.current.onStand(stands, isStep),
    });
    setPlayer(own);
    return () => own.close();
  }, []);
  useEffect(() => player?.set(reel, settings), [player, reel, settings]);
  const now = useSyncExternalStore(
    player?.subscribe ?? NEVER,
    () => player?.snapshot() ?? null,
    () => null,
  );
  return player === null || now === null ? null : { player, now };
}
