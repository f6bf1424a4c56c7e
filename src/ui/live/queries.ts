/** What pages read from the server. Events say when an answer is out of date (live-connection). */
import { keepPreviousData, useQuery, type UseQueryResult } from "@tanstack/react-query";
import type { LogLine, SequenceView, ShotsView, ShotView } from "@/contract/api";
import { get } from "./api";

export const queryKeys = {
  shots: ["shots"] as const,
  shot: (code: string) => ["shot", code] as const,
  sequence: (id: number) => ["sequence", id] as const,
  logs: ["log"] as const,
};

export const useShots = (): UseQueryResult<ShotsView> => useQuery({ queryKey: queryKeys.shots, queryFn: () => get<ShotsView>("/api/shots") });

export function useShot(code: string, version: number | null, camera: string | null): UseQueryResult<ShotView> {
  const query = new URLSearchParams();
  if (version !== null) query.set("version", String(version));
  if (camera !== null) query.set("camera", camera);
  return useQuery({ queryKey: [...queryKeys.shot(code), version, camera], queryFn: () => get<ShotView>(`/api/shots/${encodeURIComponent(code)}?${query}`), placeholderData: keepPreviousData });
}

export const useSequence = (id: number | undefined): UseQueryResult<SequenceView> =>
  useQuery({ queryKey: queryKeys.sequence(id ?? 0), queryFn: () => get<SequenceView>(`/api/sequences/${id}`), enabled: id !== undefined });

export const useRunLog = (runId: number | undefined): UseQueryResult<{ readonly lines: readonly LogLine[] }> =>
  useQuery({ queryKey: [...queryKeys.logs, runId], queryFn: () => get<{ lines: LogLine[] }>(`/api/runs/${runId}/log`), enabled: runId !== undefined });

/** Cameras of a scene file, or why it cannot be read. */
export const useSceneCameras = (code: string, scene: string): UseQueryResult<{ readonly cameras: readonly string[] }> =>
  useQuery({ queryKey: ["scene", code, scene], queryFn: () => get<{ cameras: string[] }>(`/api/shots/${encodeURIComponent(code)}/scene?path=${encodeURIComponent(scene)}`), enabled: scene !== "", staleTime: 0 });
