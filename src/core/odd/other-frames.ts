/** Files that say of themselves which frame they are, against the numbers in their names. */
import { groupBy } from "../many";

/**
 * A sequence that was numbered anew says another number in each file, by the same distance: what counts is who says
 * something else than most. Where no half of them agrees, the names are taken at their word.
 * @returns those that are out of line, with the number that one would expect them to say
 */
export function otherFrames(
  said: readonly { readonly frame: number; readonly says: number }[],
): readonly { readonly frame: number; readonly says: number; readonly expected: number }[] {
  const byDistance = groupBy(said, ({ frame, says }) => says - frame);
  const [distance, own] = [...byDistance].reduce<readonly [number, number]>(
    (best, [apart, group]) => (group.length > best[1] ? [apart, group.length] : best),
    [0, 0],
  );
  const usual = own * 2 >= said.length && own > 1 ? distance : 0;
  return said
    .filter(({ frame, says }) => says - frame !== usual)
    .map(({ frame, says }) => ({ frame, says, expected: frame + usual }));
}
