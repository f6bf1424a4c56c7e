"use client";
/** A look at a folder: how far it is, what it found, or what is wrong. */
import type { FoundFolderView, LookMessage, PointedFolder } from "@/contract/take-in";
import { projectApi } from "../live/api";
import { type Lines, useLines } from "../live/use-lines";

export type LookState =
  | { readonly state: "idle" }
  | { readonly state: "looking"; readonly folders: number; readonly files: number }
  | { readonly state: "found"; readonly found: FoundFolderView }
  | { readonly state: "wrong"; readonly message: string };

function stateOf({
  isGoing,
  last,
  error,
}: Pick<Lines<LookMessage, PointedFolder>, "isGoing" | "last" | "error">): LookState {
  if (error !== null) return { state: "wrong", message: error };
  if (last?.type === "found") return { state: "found", found: last.found };
  if (last?.type === "wrong") return { state: "wrong", message: last.message };
  if (!isGoing) return { state: "idle" };
  return { state: "looking", folders: last?.folders ?? 0, files: last?.files ?? 0 };
}

export interface LookAtFolder extends Pick<Lines<LookMessage, PointedFolder>, "start" | "stop"> {
  readonly look: LookState;
}

export function useLook(project: string): LookAtFolder {
  const { start, stop, ...lines } = useLines<LookMessage, PointedFolder>(
    `${projectApi(project)}/take-in/look`,
  );
  return { look: stateOf(lines), start, stop };
}
