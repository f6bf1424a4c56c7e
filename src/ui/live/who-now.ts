/**
 * The name that goes along with everything that is done on this page. It is kept in this browser; before
 * anybody has given one it is the account that the server runs under, which at a desk is the person.
 */
import type { Who } from "@/contract/who";

const KEY = "plain-tally-who";
/** Said to this tab; other tabs hear of it from the browser. */
export const WHO_CHANGED = "plain-tally-who-changed";

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
  dispatchEvent(new Event(WHO_CHANGED));
}
