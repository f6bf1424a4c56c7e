/** What pages read from the server. Events say when an answer is out of date (live-connection). */
import { keepPreviousData, useQuery, type UseQueryResult } from "@tanstack/react-query";
import { useEffect } from "react";
import type { ClusterView } from "@/contract/cluster";
import type { InvitationsView } from "@/contract/invitation-view";
import type { MeView, PersonView } from "@/contract/people";
import type { MoviePresetView } from "@/contract/handover";
import type { LostTalliesView } from "@/contract/rebuild";
import type {
  ShotCodes,
  MotionView,
  PresetView,
  RevisionView,
  SceneView,
  ShotsView,
  ShotView,
} from "@/contract/shot-view";
import type { ProjectFilesView, ProjectsView } from "@/contract/project-view";
import type { HouseRunsView } from "@/contract/runs-view";
import type { HouseSeenView, SettingsView } from "@/contract/settings-view";
import type { SceneFacts } from "@/contract/scene-facts";
import type { Plan } from "@/core/plan/plan";
import { STAND_IN } from "@/core/plan/renderer";
import { get, projectApi, type ShotName, shotApi } from "./api";
import { goesOn } from "@/core/run/run-life";
import { queryKeys, type WantedSequence } from "./query-keys";
import type { HandOutView, LogLine, RunPaceView, RunSummaryView, RunView } from "@/contract/run-view";
import type { ProofsView } from "@/contract/proof-view";
import type { EditView } from "@/contract/edit-view";
import type { AsideFilesView, FrameChangeView, SequenceView } from "@/contract/sequence-view";
import type { NodesView } from "@/contract/node-view";
import { withChangesHeard } from "./changes-heard";
import { readLines } from "./lines-wanted";

/** How often the scene file is looked at while a plan is open. */
const SCENE_LOOK_MS = 5_000;
/** Machines of a cluster change by the day. */
const CLUSTER_STALE_MS = 60_000;
/** What was made today moves with every frame. */
const NODES_LOOK_MS = 3_000;

/** Projects of the house. */
export const useProjects = (): UseQueryResult<ProjectsView> =>
  useQuery({
    queryKey: queryKeys.projects,
    queryFn: ({ signal }) => get<ProjectsView>("/api/projects", signal),
  });

/** Projects whose folder lies near a root, and whose tally is not here: after a database was lost. */
export const useLostTallies = (): UseQueryResult<LostTalliesView> =>
  useQuery({
    queryKey: ["lost-tallies"],
    queryFn: ({ signal }) => get<LostTalliesView>("/api/rebuild", signal),
  });

/** What a scene of a project says of itself. */
export const sceneFacts = (project: string, scene: string, renderer: string): Promise<SceneFacts> =>
  get<SceneFacts>(`${projectApi(project)}/scene-facts?${new URLSearchParams({ scene, renderer })}`);

/** Files of a project that a scene may be chosen from. @param project null: there is none yet */
export const useProjectFiles = (project: string | null): UseQueryResult<ProjectFilesView> =>
  useQuery({
    queryKey: ["project-files", project],
    queryFn: ({ signal }) => get<ProjectFilesView>(`${projectApi(project!)}/files`, signal),
    enabled: project !== null,
  });

/** Codes of a project's shots, without their tallies. */
export const useShotCodes = (project: string): UseQueryResult<ShotCodes> =>
  useQuery({
    queryKey: queryKeys.codes(project),
    queryFn: ({ signal }) => get<ShotCodes>(`${projectApi(project)}/codes`, signal),
  });

/** The ledger of a project. A large one comes in parts, one after the other, while somebody looks. */
export function useShots(project: string): UseQueryResult<ShotsView> {
  const query = useQuery({
    queryKey: queryKeys.shotsOf(project),
    queryFn: ({ signal, client }) =>
      readLines(project, client.getQueryData(queryKeys.shotsOf(project)), (only) =>
        get<ShotsView>(
          `/api/projects/${encodeURIComponent(project)}/shots${only === null ? "" : `?${new URLSearchParams({ only: only.join(",") })}`}`,
          signal,
        ),
      ),
  });
  const isWhole = (query.data?.rest ?? []).length === 0;
  const { isFetching, isError, refetch } = query;
  useEffect(() => {
    if (!isWhole && !isFetching && !isError) void refetch();
  }, [isWhole, isFetching, isError, refetch]);
  return query;
}

/** The newest edit of a project, as it is played. */
export const useEdit = (project: string): UseQueryResult<EditView> =>
  useQuery({
    queryKey: queryKeys.edit(project),
    queryFn: ({ signal }) => get<EditView>(`${projectApi(project)}/edits`, signal),
  });

/**
 * A shot with its plan; the one before stays on show while another version is read.
 * @param isOn false: not asked for until somebody looks
 */
export function useShot(name: ShotName, wanted: WantedSequence, isOn = true): UseQueryResult<ShotView> {
  const query = new URLSearchParams();
  for (const [key, value] of Object.entries(wanted) as [string, string | null][])
    if (value !== null) query.set(key, value);
  return useQuery({
    queryKey: queryKeys.wantedShot(name, wanted),
    queryFn: ({ signal }) => get<ShotView>(`${shotApi(name)}?${query}`, signal),
    placeholderData: keepPreviousData,
    enabled: isOn,
  });
}

/** Tally, files and runs of a sequence. It is kept up to date by changes, not by asking again. */
export const useSequence = (id: number | undefined): UseQueryResult<SequenceView> =>
  useQuery({
    queryKey: queryKeys.sequence(id ?? 0),
    queryFn: ({ signal }) => withChangesHeard(() => get<SequenceView>(`/api/sequences/${id}`, signal)),
    enabled: id !== undefined,
  });

/** @param isOn false: not asked for until somebody looks */
export const useAsideFiles = (sequenceId: number, isOn = true): UseQueryResult<AsideFilesView> =>
  useQuery({
    queryKey: [...queryKeys.asides, sequenceId],
    queryFn: ({ signal }) => get<AsideFilesView>(`/api/sequences/${sequenceId}/aside`, signal),
    enabled: isOn,
  });

/** What the file of a frame changed against the one before it. @param content of the present file */
export const useFrameChange = (
  sequenceId: number,
  frame: number,
  content: string,
  isOn: boolean,
): UseQueryResult<FrameChangeView> =>
  useQuery({
    queryKey: ["change", sequenceId, frame, content],
    queryFn: ({ signal }) =>
      get<FrameChangeView>(`/api/sequences/${sequenceId}/frames/${frame}/change`, signal),
    enabled: isOn,
  });

/** Lines of a run, of all nodes (blank) or one; or all that is known of a frame, whatever its run. */
export type LogOf =
  { readonly runId: number; readonly node: string } | { readonly leadId: number; readonly frame: number };

/** @param search text that lines hold */
export const useLog = (of: LogOf, search: string): UseQueryResult<{ readonly lines: readonly LogLine[] }> => {
  const address =
    "frame" in of
      ? `/api/sequences/${of.leadId}/frames/${of.frame}/log?${new URLSearchParams({ search })}`
      : `/api/runs/${of.runId}/log?${new URLSearchParams({ node: of.node, search })}`;
  return useQuery({
    queryKey: [...queryKeys.logs, address],
    queryFn: ({ signal }) => get<{ lines: LogLine[] }>(address, signal),
    placeholderData: keepPreviousData,
  });
};

/** Events tell what has happened; that nothing does is told by the clock. */
const PACE_LOOK_MS = 10_000;

/** The pace of a run as it is now: falls while a frame lets wait for it. */
export const useRunPace = (run: RunView): RunPaceView =>
  useQuery({
    queryKey: ["pace", run.id, run.state, run.done, run.left],
    queryFn: ({ signal }) => get<RunPaceView>(`/api/runs/${run.id}/pace`, signal),
    initialData: run,
    staleTime: PACE_LOOK_MS,
    enabled: goesOn(run.state),
    refetchInterval: PACE_LOOK_MS,
  }).data;

/** What an ended run came to. */
export const useRunSummary = (runId: number): UseQueryResult<RunSummaryView> =>
  useQuery({
    queryKey: [...queryKeys.logs, runId, "summary"],
    queryFn: ({ signal }) => get<RunSummaryView>(`/api/runs/${runId}/summary`, signal),
  });

/** What each machine of a hand-out has, and what is back. */
export const useHandOut = (runId: number): UseQueryResult<HandOutView> =>
  useQuery({
    queryKey: [...queryKeys.logs, runId, "hand-out"],
    queryFn: ({ signal }) => get<HandOutView>(`/api/runs/${runId}/hand-out`, signal),
  });

/**
 * A scene file as it is now, or why it cannot be read. Somebody else's program saves it, so it is asked for
 * again and again while it is looked at.
 */
export const useScene = (name: ShotName, scene: string): UseQueryResult<SceneView> =>
  useQuery({
    queryKey: ["scene", name, scene],
    queryFn: ({ signal }) =>
      get<SceneView>(`${shotApi(name)}/scene?path=${encodeURIComponent(scene)}`, signal),
    enabled: scene !== "",
    staleTime: 0,
    refetchInterval: SCENE_LOOK_MS,
  });

/**
 * What another renderer tells of a scene.
 * @param isOfAny asks of the stand-in's too; on a shot's page `useScene` knows that better
 */
export const useDescribedScene = (
  project: string,
  scene: string,
  renderer: string,
  isOfAny = false,
): UseQueryResult<SceneFacts> =>
  useQuery({
    queryKey: ["scene-facts", project, scene, renderer],
    queryFn: () => sceneFacts(project, scene, renderer),
    enabled: (isOfAny || renderer !== STAND_IN) && scene !== "",
  });

/** The settings of the house. */
export const useSettings = (): UseQueryResult<SettingsView> =>
  useQuery({
    queryKey: queryKeys.settings,
    queryFn: ({ signal }) => get<SettingsView>("/api/settings", signal),
    staleTime: 0,
  });

/** Runs over all shots. */
export const useHouseRuns = (): UseQueryResult<HouseRunsView> =>
  useQuery({
    queryKey: queryKeys.runs,
    queryFn: ({ signal }) => get<HouseRunsView>("/api/runs", signal),
    staleTime: 0,
  });

/** What its nodes see of it: asked each time, which takes a moment. */
export const useHouseSeen = (): UseQueryResult<HouseSeenView> =>
  useQuery({
    queryKey: [...queryKeys.settings, "nodes"],
    queryFn: ({ signal }) => get<HouseSeenView>("/api/settings/nodes", signal),
    staleTime: 0,
  });

/** Where the motion of a scene ends, as a camera sees it. */
export const useMotion = (
  name: ShotName,
  plan: Pick<Plan, "scene" | "timeLine">,
  camera: string | undefined,
): UseQueryResult<MotionView> => {
  const query = new URLSearchParams({
    scene: plan.scene,
    camera: camera ?? "",
    first: String(plan.timeLine.first),
    last: String(plan.timeLine.last),
  });
  return useQuery({
    queryKey: ["motion", name, query.toString()],
    queryFn: ({ signal }) => get<MotionView>(`${shotApi(name)}/motion?${query}`, signal),
    enabled: camera !== undefined,
  });
};

/** Asked for again and again: figures of the day move with every frame. */
export const useNodes = (): UseQueryResult<NodesView> =>
  useQuery({
    queryKey: queryKeys.nodes,
    queryFn: ({ signal }) => get<NodesView>("/api/nodes", signal),
    refetchInterval: NODES_LOOK_MS,
  });

/** The batch system that runs may be sent to: asked where somebody may send one. */
export const useCluster = (isOn = true): UseQueryResult<ClusterView> =>
  useQuery({
    queryKey: queryKeys.cluster,
    queryFn: ({ signal }) => get<ClusterView>("/api/cluster", signal),
    staleTime: CLUSTER_STALE_MS,
    enabled: isOn,
  });

/** Who asks: it changes with a sign-in, which loads the page anew. */
export const useMe = (): UseQueryResult<MeView> =>
  useQuery({
    queryKey: queryKeys.me,
    queryFn: ({ signal }) => get<MeView>("/api/me", signal),
    staleTime: Infinity,
  });

/** Who may sign in. */
export const usePeople = (): UseQueryResult<{ readonly people: readonly PersonView[] }> =>
  useQuery({
    queryKey: queryKeys.people,
    queryFn: ({ signal }) => get<{ people: PersonView[] }>("/api/people", signal),
  });

/** Who may come in over the network; asked again beside the nodes, for a machine may join at any moment. */
export const useInvitations = (): UseQueryResult<InvitationsView> =>
  useQuery({
    queryKey: queryKeys.invitations,
    queryFn: ({ signal }) => get<InvitationsView>("/api/nodes/invitations", signal),
    refetchInterval: NODES_LOOK_MS,
  });

/** The team's presets. */
export const usePresets = (): UseQueryResult<{ readonly presets: readonly PresetView[] }> =>
  useQuery({
    queryKey: queryKeys.presets,
    queryFn: ({ signal }) => get<{ presets: PresetView[] }>("/api/presets", signal),
  });

/** Settings of movies under names of the house, by name; none while they are not there yet. */
export const useMoviePresets = (): readonly MoviePresetView[] =>
  useQuery({
    queryKey: queryKeys.moviePresets,
    queryFn: ({ signal }) => get<readonly MoviePresetView[]>("/api/movie-presets", signal),
  }).data ?? [];

/** @param newest part of the key: a new revision is another list */
export const useRevisions = (
  name: ShotName,
  versionId: number,
  newest: number,
): UseQueryResult<{ readonly revisions: readonly RevisionView[] }> =>
  useQuery({
    queryKey: ["revisions", versionId, newest],
    queryFn: ({ signal }) =>
      get<{ revisions: RevisionView[] }>(`${shotApi(name)}/revisions?version=${versionId}`, signal),
  });

/** Proofs, and what an estimate is made from. */
export const useProofs = (sequenceId: number): UseQueryResult<ProofsView> =>
  useQuery({
    queryKey: queryKeys.proofs(sequenceId),
    queryFn: ({ signal }) => get<ProofsView>(`/api/sequences/${sequenceId}/proofs`, signal),
  });
