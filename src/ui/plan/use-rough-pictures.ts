"use client";
/**
 * Small pictures that the server renders when it is asked, one at a time: those of a plan that has changed
 * meanwhile are given up, here and there, so that nothing a person saves waits behind them.
 */
import { useEffect, useState } from "react";

/** After the last change: whoever drags a figure wants the pictures of where it ends. */
const SETTLE_MS = 350;

/**
 * @param urls in the order in which they are wanted
 * @returns addresses of what is there, by the address that was asked; and of how many the server says no
 */
export function useRoughPictures(urls: readonly string[]): {
  readonly shown: ReadonlyMap<string, string>;
  readonly refused: number;
} {
  const [shown, setShown] = useState<ReadonlyMap<string, string>>(new Map());
  const [refused, setRefused] = useState(0);
  const key = urls.join("\n");
  useEffect(() => {
    const giveUp = new AbortController();
    const made: string[] = [];
    const load = async (): Promise<void> => {
      const pictures = new Map<string, string>();
      for (const url of key === "" ? [] : key.split("\n")) {
        const answer = await fetch(url, { signal: giveUp.signal }).catch(() => null);
        if (giveUp.signal.aborted) return;
        const picture = answer?.ok === true ? await answer.blob().catch(() => null) : null;
        if (giveUp.signal.aborted) return;
        if (picture === null) setRefused((n) => n + 1);
        else {
          const address = URL.createObjectURL(picture);
          made.push(address);
          pictures.set(url, address);
          setShown(new Map(pictures));
        }
      }
    };
    const timer = setTimeout(() => {
      setRefused(0);
      setShown(new Map());
      void load();
    }, SETTLE_MS);
    return () => {
      clearTimeout(timer);
      giveUp.abort();
      for (const address of made) URL.revokeObjectURL(address);
    };
  }, [key]);
  return { shown, refused };
}
