/** Keeps the keyboard inside an overlay while it is there, and gives the focus back afterwards.
 *
 * The trap is laid once. One that is laid anew at each render hands the focus back and forth, and can take it
 * out of a field into which somebody types.
 */
import { type RefObject, useEffect } from "react";
import { trapFocus } from "@zag-js/focus-trap";

export function useFocusTrap(surface: RefObject<HTMLElement | null>): void {
  useEffect(
    () =>
      surface.current === null
        ? undefined
        : trapFocus(surface.current, { initialFocus: () => surface.current ?? false }),
    [surface],
  );
}
