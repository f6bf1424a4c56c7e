/** Handovers of one place: what there is, what would come of the next one, and what can be done with them. */
import {
  keepPreviousData,
  useMutation,
  type UseMutationResult,
  useQuery,
  useQueryClient,
  type UseQueryResult,
} from "@tanstack/react-query";
import type { HandoverOutlook, HandoverView, WishBody } from "@/contract/handover";
import { isUnderWay } from "@/core/handover/handover-life";
import { get, post, remove } from "../live/api";

/** While one is made its progress moves. */
const MOVING_MS = 700;
const STANDING_MS = 4_000;

const keyOf = (at: string) => ["handovers", at] as const;

/** @param at address of the handovers; @param isOn whether somebody looks */
export const useHandovers = (at: string, isOn: boolean): UseQueryResult<readonly HandoverView[]> =>
  useQuery({
    queryKey: keyOf(at),
    queryFn: ({ signal }) => get<readonly HandoverView[]>(at, signal),
    enabled: isOn,
    refetchInterval: (query) =>
      query.state.data?.some((h) => isUnderWay(h.state)) === true ? MOVING_MS : STANDING_MS,
  });

/** What would come of a wish; the last answer stays until the next one is there. */
export const useOutlook = (at: string, wish: WishBody, isOn: boolean): UseQueryResult<HandoverOutlook> =>
  useQuery({
    queryKey: [...keyOf(at), "outlook", JSON.stringify(wish)],
    queryFn: () => post<HandoverOutlook>(`${at}/outlook`, wish),
    enabled: isOn,
    placeholderData: keepPreviousData,
    refetchInterval: STANDING_MS,
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
  const onSettled = (): Promise<void> => client.invalidateQueries({ queryKey: keyOf(at) });
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
