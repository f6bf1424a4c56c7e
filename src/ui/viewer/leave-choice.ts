import type { FormEvent } from "react";

/** A choice that was made lets go of the keys: Space plays again, and does not open the list once more. */
export function leaveChoice(event: FormEvent<HTMLElement>): void {
  if (event.target instanceof HTMLSelectElement) event.target.blur();
}
