/** What is to be patched of each shot of a project, and the runs that do it. */
import { useMutation, type UseMutationResult, useQueries } from "@tanstack/react-query";
import type { StartRunBody } from "@/contract/bodies";
import type { PatchView } from "@/contract/patch-view";
import { unionAll } from "@/core/frames/frame-set";
import { unpackSet } from "@/core/tally/packed";
import { get, messageOf, post, shotApi } from "../live/api";
import { queryKeys } from "../live/query-keys";

/** A run may go on beside the page; a large project is not asked for all the time. */
const ANEW_MS = 10_000;
const FEW_SHOTS = 40;

export interface Patches {
  /** Shots that have something to patch, by code. */
  readonly lists: readonly PatchView[];
  /** Shots that are still to answer. */
  readonly waiting: number;
  readonly error: Error | null;
}

export function usePatches(project: string, codes: readonly string[]): Patches {
  return useQueries({
    queries: codes.map((code) => ({
      queryKey: queryKeys.patch(project, code),
      queryFn: ({ signal }: { signal: AbortSignal }) =>
        get<PatchView>(`${shotApi({ project, code })}/patch`, signal),
      refetchInterval: codes.length <= FEW_SHOTS ? ANEW_MS : (false as const),
    })),
    combine: (answers) => ({
      lists: answers.flatMap(({ data }) => (data !== undefined && data.sequences.length > 0 ? [data] : [])),
      waiting: answers.filter(({ isPending, error }) => isPending && error === null).length,
      error: answers.find(({ error }) => error !== null)?.error ?? null,
    }),
  });
}

/** Frames of a shot, each once, whatever passes of it are rendered again. */
export const framesOf = ({ sequences }: PatchView): number =>
  unionAll(sequences.flatMap(({ ranges }) => ranges.map(({ frames }) => unpackSet(frames)))).count;

/** What came of the start of each shot's run. */
export type Started = ReadonlyMap<string, { readonly runId: number } | { readonly refused: string }>;

/** One after the other: what is refused for one shot is done for the others. */
export const useStartPatches = (): UseMutationResult<Started, Error, readonly PatchView[]> =>
  useMutation({
    mutationFn: async (lists: readonly PatchView[]) => {
      const started = new Map<string, { runId: number } | { refused: string }>();
      for (const { code, sequenceId, nodes } of lists)
        started.set(
          code,
          await post<{ runId: number }>(`/api/sequences/${sequenceId}/runs`, {
            phrase: "all",
            policy: "mend",
            scope: "version",
            nodes,
          } satisfies StartRunBody).catch((error: unknown) => ({ refused: messageOf(error) })),
        );
      return started;
    },
  });
