/**
 * What changes from moment to moment (progress, nodes) outside React's state: the band paints it
 * directly, components subscribe to the part they show.
 */
import { useSyncExternalStore } from "react";
import type { NodeView } from "@/contract/node-view";
import type { OutOfSightView, RenderingView } from "@/contract/live";

export interface LiveState {
  /** Frames in work, of all runs. */
  readonly rendering: readonly RenderingView[];
  /** Every node with its state. */
  readonly nodes: readonly NodeView[];
  /** Since any node finished a frame, when this state arrived. */
  readonly lastFrameSeconds: number | null;
  /** Projects whose folder the server cannot see. */
  readonly outOfSight: readonly OutOfSightView[];
  /** When this state arrived, by the browser's clock; elapsed times count on from here. */
  readonly at: number;
  /** Why nothing arrives, or null while all is well. */
  readonly trouble: string | null;
}

let state: LiveState = {
  rendering: [],
  nodes: [],
  lastFrameSeconds: null,
  outOfSight: [],
  at: 0,
  trouble: null,
};
const listeners = new Set<() => void>();

/** As of now, for whoever paints. */
export const liveState = (): LiveState => state;

/** Replaces parts of it and tells everybody. */
export function setLive(change: Partial<LiveState>): void {
  state = { ...state, ...change };
  for (const listener of listeners) listener();
}

/** @returns ends it */
export function subscribeLive(listener: () => void): () => void {
  listeners.add(listener);
  return () => void listeners.delete(listener);
}

/** What the server draws its first HTML with: nothing is known yet. */
const SERVER_STATE = state;
/** For components; each change draws them anew, so only small ones ask. */
export const useLive = (): LiveState => useSyncExternalStore(subscribeLive, liveState, () => SERVER_STATE);
