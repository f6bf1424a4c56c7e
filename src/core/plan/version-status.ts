/**
 * Versions of a shot that stand beside each other as looks.
 *
 *     open     it may be rendered; the next one is open too
 *     chosen   the one that goes on: the shot's code alone means it, and only it is refined
 *     retired  its files stay; it is no work to do, and is rendered no more until somebody opens it again
 *
 *     open, retired --choose--> chosen, and every other one of its purpose --> retired
 *     chosen, retired --open again--> open; the others stay as they are
 */
import type { Purpose } from "./plan";

/** In the order of their life. */
export const VERSION_STATUSES = ["open", "chosen", "retired"] as const;
export type VersionStatus = (typeof VERSION_STATUSES)[number];

export interface StatusOfVersion {
  readonly id: number;
  /** Roughs and finals are chosen among apart. */
  readonly purpose: Purpose;
  readonly status: VersionStatus;
}

/** What changes when one version of a shot is chosen, or opened again: new statuses by id. */
export function decideVersion(
  versions: readonly StatusOfVersion[],
  id: number,
  decision: "choose" | "open",
): ReadonlyMap<number, VersionStatus> {
  const one = versions.find((v) => v.id === id);
  const wanted = (v: StatusOfVersion): VersionStatus => {
    if (v.id === id) return decision === "choose" ? "chosen" : "open";
    return decision === "choose" && v.purpose === one?.purpose ? "retired" : v.status;
  };
  return new Map(versions.flatMap((v) => (wanted(v) === v.status ? [] : [[v.id, wanted(v)] as const])));
}
