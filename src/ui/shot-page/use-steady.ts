/** For values that are made anew with each news and seldom differ, such as which frames the band shows. */
import { useState } from "react";

/**
 * The value of before, as long as the new one is equal to it: what depends on it is then not worked out anew.
 */
export function useSteady<T>(value: T, isEqual: (a: T, b: T) => boolean): T {
  const [kept, setKept] = useState(value);
  if (kept === value || isEqual(kept, value)) return kept;
  setKept(value);
  return value;
}
