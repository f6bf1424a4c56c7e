/** Handovers of one place: what there is, what would come of the next one, and what can be done with them. */
import {
  keepPreviousData,
  useMutation,
  type UseMutationResult,
  useQueries,
  useQuery,
  useQueryClient,
  type UseQueryResult,
} from "@tanstack/react-query";
import { useEffect } from "react";
import type { HandoverOutlook, HandoverView, WishBody } from "@/contract/handover";
import { isOver, isUnderWay } from "@/core/handover/handover-life";
import { get, post, remove } from "../live/api";
import { queryKeys } from "../live/query-keys";

/** While one is made its progress moves. */
const MOVING_MS = 700;
/** One that follows a run. */
const AWAITED_MS = 3_000;
/** News tell of frames that change; of what others hand over, nothing does. */
const OTHERS_MS = 15_000;

/**
 * The whole list says of each whether frames under it have changed, which reads the whole sequence: it is asked for
 * when they do. Those that are not over yet are asked after one by one.
 * @param at address of the handovers; @param isOn whether somebody looks
 */
export function useHandovers(
  at: string,
  isOn: boolean,
): { readonly handovers: readonly HandoverView[] | undefined; readonly error: Error | null } {
  const client = useQueryClient();
  const list = useQuery({
    queryKey: queryKeys.handoversAt(at),
    queryFn: ({ signal }) => get<readonly HandoverView[]>(at, signal),
    enabled: isOn,
    refetchInterval: OTHERS_MS,
  });
  const open = (list.data ?? []).filter((h) => !isOver(h.state));
  const moving = useQueries({
    queries: open.map(({ id, state }) => ({
      queryKey: queryKeys.handover(id),
      queryFn: ({ signal }: { readonly signal: AbortSignal }) =>
        get<HandoverView>(`/api/handovers/${id}`, signal),
      enabled: isOn,
      refetchInterval: isUnderWay(state) ? MOVING_MS : AWAITED_MS,
      retry: false,
    })),
  });
  // One that has come to its end, or is gone, changes the list.
  const ended = moving.filter(
    ({ data, error }) => error !== null || (data !== undefined && isOver(data.state)),
  );
  const count = ended.length;
  useEffect(() => {
    if (count > 0) void client.invalidateQueries({ queryKey: queryKeys.handoversAt(at), exact: true });
  }, [client, at, count]);
  const now = new Map(moving.flatMap(({ data }) => (data === undefined ? [] : [[data.id, data] as const])));
  return {
    handovers: list.data?.map((h) => (isOver(h.state) ? h : (now.get(h.id) ?? h))),
    error: list.error,
  };
}

/** What would come of a wish; the last answer stays until the next one is there. */
export const useOutlook = (at: string, wish: WishBody, isOn: boolean): UseQueryResult<HandoverOutlook> =>
  useQuery({
    queryKey: [...queryKeys.handoversAt(at), "outlook", JSON.stringify(wish)],
    queryFn: () => post<HandoverOutlook>(`${at}/outlook`, wish),
    enabled: isOn,
    placeholderData: keepPreviousData,
    retry: false,
  });

export interface HandoverDeeds {
  readonly make: UseMutationResult<{ readonly id: number; readonly path: string }, Error, WishBody>;
  readonly stop: UseMutationResult<unknown, Error, number>;
  readonly again: UseMutationResult<unknown, Error, number>;
  readonly forget: UseMutationResult<unknown, Error, number>;
}

export function useHandoverDeeds(at: string): HandoverDeeds {
  const client = useQueryClient();
  const onSettled = (): Promise<void> => client.invalidateQueries({ queryKey: queryKeys.handoversAt(at) });
  return {
    make: useMutation({
      mutationFn: (wish: WishBody) => post<{ readonly id: number; readonly path: string }>(at, wish),
      onSettled,
    }),
    stop: useMutation({ mutationFn: (id: number) => post(`/api/handovers/${id}/stop`), onSettled }),
    again: useMutation({ mutationFn: (id: number) => post(`/api/handovers/${id}/again`), onSettled }),
    forget: useMutation({ mutationFn: (id: number) => remove(`/api/handovers/${id}`), onSettled }),
  };
}

export const handoverFile = (id: number): string => `/api/handovers/${id}/file`;
export const handoverLogKey = (id: number) => ["handover-log", id] as const;
