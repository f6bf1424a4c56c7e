/** Keys of a page. They rest while somebody types, and while a key is held with Ctrl, Alt or Cmd. */
import { useEffect, useRef } from "react";

export type Keys = Readonly<Record<string, (event: KeyboardEvent) => void>>;

/** Whether a key goes into a field: buttons and ticks are none. */
const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable ||
    target.tagName === "TEXTAREA" ||
    target.tagName === "SELECT" ||
    (target instanceof HTMLInputElement && !["radio", "checkbox", "button"].includes(target.type)));

/** @param keys by `event.key`; @param isOn false while something lies over the page */
export function useKeys(keys: Keys, isOn = true): void {
  const latest = useRef(keys);
  latest.current = keys;
  useEffect(() => {
    if (!isOn) return;
    const onKey = (event: KeyboardEvent): void => {
      if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target))
        return;
      const act = latest.current[event.key];
      if (act === undefined) return;
      event.preventDefault();
      act(event);
    };
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, [isOn]);
}

/**
 * Escape, heard before tooltips and focus traps, which keep it for themselves. It rests while somebody types.
 */
export function useEscape(act: () => void): void {
  const latest = useRef(act);
  latest.current = act;
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.key === "Escape" && !isTyping(event.target)) latest.current();
    };
    window.addEventListener("keydown", onKey, { capture: true });
    return () => window.removeEventListener("keydown", onKey, { capture: true });
  }, []);
}
