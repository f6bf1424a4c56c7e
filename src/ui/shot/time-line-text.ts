/** What a change of a shot's time line comes to, in words. */
import { frames } from "../words";

/** What another time line makes more or fewer of, before it is saved. */
export function timeLineText(
  shot: { readonly first: number; readonly last: number },
  first: number,
  last: number,
): string | null {
  const before = shot.last - shot.first + 1;
  const kept = Math.max(0, Math.min(last, shot.last) - Math.max(first, shot.first) + 1);
  const added = last - first + 1 - kept;
  const dropped = before - kept;
  if (added === 0 && dropped === 0) return null;
  const parts = [
    ...(added > 0 ? [`${frames(added)} more to render`] : []),
    ...(dropped > 0 ? [`${frames(dropped)} asked for no more; their files stay, as extra`] : []),
  ];
  return `${parts.join("; ")}, where the plan asks for all of the time line.`;
}
