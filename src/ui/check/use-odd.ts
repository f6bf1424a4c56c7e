/** Odd ones of a sequence, and what somebody says of them. */
import {
  useMutation,
  type UseMutationResult,
  useQuery,
  useQueryClient,
  type UseQueryResult,
} from "@tanstack/react-query";
import type { JudgeBody, OddView } from "@/contract/odd-view";
import type { Thresholds } from "@/core/odd/odd";
import { get, post, remove } from "../live/api";
import { queryKeys } from "../live/query-keys";

/** While nodes measure, and when all is measured: a file may come at any moment. */
const MEASURING_MS = 2_000;
const MEASURED_MS = 10_000;

/** @param isOn it is on show */
export const useOdd = (sequenceId: number, isOn: boolean): UseQueryResult<OddView> =>
  useQuery({
    queryKey: queryKeys.odd(sequenceId),
    queryFn: ({ signal }) => get<OddView>(`/api/sequences/${sequenceId}/odd`, signal),
    enabled: isOn,
    refetchInterval: ({ state }) => ((state.data?.waiting ?? 0) > 0 ? MEASURING_MS : MEASURED_MS),
  });

export function useJudge(sequenceId: number): UseMutationResult<{ judged: number }, Error, JudgeBody> {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: JudgeBody) => post<{ judged: number }>(`/api/sequences/${sequenceId}/odd/judge`, body),
    onSettled: () => client.invalidateQueries({ queryKey: queryKeys.odd(sequenceId) }),
  });
}

/** @returns sets them; null: the usual ones. What is odd by them is there with the answer */
export function useSetThresholds(sequenceId: number): UseMutationResult<OddView, Error, Thresholds | null> {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (thresholds: Thresholds | null) => {
      const address = `/api/sequences/${sequenceId}/odd/thresholds`;
      return thresholds === null ? remove<OddView>(address) : post<OddView>(address, thresholds);
    },
    onSuccess: (view) => client.setQueryData(queryKeys.odd(sequenceId), view),
  });
}
