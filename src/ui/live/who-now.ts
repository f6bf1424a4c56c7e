/**
 * The name that goes along with everything that is done on this page. It is kept in this browser; before
 * anybody has given one it is the account that the server runs under, which at a desk is the person.
 */
import { useSyncExternalStore } from "react";
import type { Who } from "@/contract/who";

const KEY = "plain-tally-who";
/** Said to this tab; other tabs hear of it from the browser. */
const CHANGED = "plain-tally-who-changed";

/** A browser may refuse to keep anything: then the name holds as long as the page does. */
let given: string | null = null;

export function whoNow(): Who {
  try {
    given = localStorage.getItem(KEY) ?? given;
  } catch {
    // As it was given last.
  }
  return given ?? document.documentElement.dataset.account ?? null;
}

/** Keeps a name for this browser. @param name already found to be one */
export function giveWho(name: string): void {
  given = name;
  try {
    localStorage.setItem(KEY, name);
  } catch {
    // It holds for this page.
  }
  dispatchEvent(new Event(CHANGED));
}

function subscribe(hear: () => void): () => void {
  addEventListener(CHANGED, hear);
  addEventListener("storage", hear);
  return () => {
    removeEventListener(CHANGED, hear);
    removeEventListener("storage", hear);
  };
}

/** The same for parts of a page; null in the server's first HTML, which knows no browser. */
export const useWho = (): Who => useSyncExternalStore(subscribe, whoNow, () => null);
