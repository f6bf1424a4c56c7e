/** What a sequence can be compared with. */
import type { ShotView } from "@/contract/shot-view";
import { versionName } from "@/core/plan/plan";
import type { Compared } from "./use-layers";

/** With its text. */
export type Choice = readonly [Compared, string];

/** Of another shot. */
export const comparedText = (one: Compared): string =>
  one.kind === "before"
    ? "the files from before"
    : `${one.shot ?? ""} ${one.version}, ${one.pass}, ${one.camera} camera`;

/** Every sequence of another shot. */
export const sequencesOf = (shot: ShotView): readonly Choice[] =>
  shot.choices.map((choice) => {
    const { camera, pass } = choice;
    const version = versionName(choice);
    return [
      { kind: "sequence", shot: shot.code, version, camera, pass },
      `${version}, ${pass}, ${camera} camera`,
    ];
  });

/**
 * Everything of the shot that can stand beside the sequence on the page; passes of the same version first.
 * @param hasBefore files of the sequence were replaced, and are kept
 */
export function comparable(shot: ShotView, hasBefore: boolean): readonly Choice[] {
  const own = versionName(shot.sequence);
  const others = shot.choices
    .filter(({ id }) => id !== shot.sequence.id)
    .map((choice): Choice => {
      const version = versionName(choice);
      const { camera, pass } = choice;
      const cameraText = camera === shot.sequence.camera ? "" : `, ${camera} camera`;
      return [
        { kind: "sequence", shot: null, version, camera, pass },
        version === own ? `${pass}${cameraText}` : `${version}, ${pass}${cameraText}`,
      ];
    });
  const isOwn = ([compared]: Choice): boolean => compared.kind === "sequence" && compared.version === own;
  return [
    ...(hasBefore ? [[{ kind: "before" }, "the files from before"] as const] : []),
    ...others.filter(isOwn),
    ...others.filter((other) => !isOwn(other)),
  ];
}
