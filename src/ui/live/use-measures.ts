/** Measures of a sequence's pictures, for as long as a lane shows one of them. */
import { useQuery } from "@tanstack/react-query";
import type { MeasureColumns } from "@/contract/measure-columns";
import { get } from "./api";
import { queryKeys } from "./query-keys";

/** A node may measure one at any moment; nobody waits for it as for a frame. */
const ANEW_MS = 15_000;

export const useMeasures = (sequenceId: number, isOn: boolean): MeasureColumns | null =>
  useQuery({
    queryKey: queryKeys.measures(sequenceId),
    queryFn: ({ signal }) => get<MeasureColumns>(`/api/sequences/${sequenceId}/measures`, signal),
    enabled: isOn,
    refetchInterval: ANEW_MS,
  }).data ?? null;
