"use client";
/** Whether the window is so low that what does not decide anything folds away. */
import { useSyncExternalStore } from "react";

/** Below it a bench would have less than half of the page. */
const SHORT = "(max-height: 899px)";

const subscribe = (onChange: () => void): (() => void) => {
  const query = window.matchMedia(SHORT);
  query.addEventListener("change", onChange);
  return () => query.removeEventListener("change", onChange);
};

/** On the server a page counts as short: nothing jumps away when it is not. */
export const useShortPage = (): boolean =>
  useSyncExternalStore(
    subscribe,
    () => window.matchMedia(SHORT).matches,
    () => true,
  );
