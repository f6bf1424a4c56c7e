/**
 * State that the browser tab remembers: where the band's window stood, which lanes are open.
 * In the tab's session storage: another tab may look at another place of the same sequence.
 */
import { useEffect, useState } from "react";

/**
 * @param isValid what was kept may come from an older version of the page; a constant, not made anew each
 * time
 */
export function useKept<T>(
  key: string,
  isValid: (value: unknown) => value is T,
  initial: T,
): readonly [T, (value: T) => void] {
  const [value, setValue] = useState<T>(initial);
  useEffect(() => {
    const text = sessionStorage.getItem(key);
    if (text === null) return;
    try {
      const kept: unknown = JSON.parse(text);
      if (isValid(kept)) setValue(kept);
    } catch {
      sessionStorage.removeItem(key);
    }
  }, [key, isValid]);
  const keep = (next: T): void => {
    setValue(next);
    sessionStorage.setItem(key, JSON.stringify(next));
  };
  return [value, keep];
}
