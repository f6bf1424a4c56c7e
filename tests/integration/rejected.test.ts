/** A picture that a person rejected: before it is rendered again, and when it comes out the same. */
import { formatPhrase } from "@/core/frames/phrase";
import { flagFrames } from "@/server/actions/flags";
import { preflightRun } from "@/server/actions/preflight";
import { saveRevision } from "@/server/actions/save-plan";
import { startRun } from "@/server/actions/start-run";
import { closePool, pool } from "@/server/db/pool";
import { openFindings } from "@/server/store/findings";
import { runById } from "@/server/store/runs";
import { latestRevision } from "@/server/store/shots";
import { loadSequence } from "@/server/views/tally";
import { openStage, type Stage, until } from "../support/stage";

let stage: Stage;
beforeAll(async () => {
  stage = await openStage();
});
afterAll(async () => {
  await stage.strike();
  await closePool();
});

const wish = (sequenceId: number, policy: "fill" | "mend" | "refine") =>
  ({ sequenceId, phrase: "all", policy, nodes: null, scope: "version" }) as const;
const render = async (sequenceId: number, policy: "fill" | "mend" | "refine"): Promise<void> => {
  const { runId } = await startRun(wish(sequenceId, policy));
  await until("the run is done", async () => (await runById(pool(), runId))?.state === "done");
};
const pointOf = async (sequenceId: number, policy: "mend" | "refine", code: string) =>
  (await preflightRun(wish(sequenceId, policy))).find((point) => point.code === code);
const small = { width: 32, height: 18, samples: 2 };

test("it is said before that the same comes out; when it does the flag stays; with another seed it is mended", async () => {
  const shot = await stage.addShot("RJ1", { frames: "1-3", ...small });
  await stage.startNode("quay-1");
  await render(shot.sequenceId, "fill");
  await flagFrames(shot.sequenceId, "2", "too grainy");
  expect(await pointOf(shot.sequenceId, "mend", "same-again")).toEqual({
    ...{ code: "same-again", frames: "2", count: 1 },
    ...{ reasons: ["too grainy"], nodes: ["quay-1"], isStandIn: true },
  });
  await render(shot.sequenceId, "mend");
  expect((await openFindings(pool(), shot.sequenceId)).map((f) => [f.frame, f.text])).toEqual([
    [2, "too grainy; rendered again, and the picture is the same"],
  ]);
  expect(formatPhrase((await loadSequence(shot.sequenceId)).tally.results.flagged)).toBe("2");
  // Said once, however often it is done.
  await render(shot.sequenceId, "mend");
  expect((await openFindings(pool(), shot.sequenceId))[0]!.text).toBe(
    "too grainy; rendered again, and the picture is the same",
  );

  const revision = (await latestRevision(pool(), shot.versionId))!;
  await saveRevision("test-film/RJ1", shot.versionId, { ...revision.plan, seed: 7 }, revision.number);
  expect(await pointOf(shot.sequenceId, "mend", "same-again")).toBeUndefined();
  await render(shot.sequenceId, "mend");
  expect(await openFindings(pool(), shot.sequenceId)).toEqual([]);
  expect((await loadSequence(shot.sequenceId)).tally.results.good.count).toBe(3);
});

test("refining without kept samples says that it starts over, and what that takes; with them it does not", async () => {
  const shot = await stage.addShot("RJ2", { frames: "1-2", ...small });
  await stage.startNode("quay-2");
  await render(shot.sequenceId, "fill");
  const first = (await latestRevision(pool(), shot.versionId))!;
  const more = { ...first.plan, samples: 4, keepSamples: true };
  await saveRevision("test-film/RJ2", shot.versionId, more, first.number);
  const took = (await loadSequence(shot.sequenceId)).files.reduce((sum, f) => sum + f.seconds!, 0);
  const point = await pointOf(shot.sequenceId, "refine", "refines-afresh");
  expect(point).toMatchObject({ frames: "1-2", count: 2, keepsSamples: true });
  expect((point as { seconds: number }).seconds).toBeCloseTo(took * 2, 6);
  await render(shot.sequenceId, "refine");
  await saveRevision("test-film/RJ2", shot.versionId, { ...more, samples: 6 }, first.number + 1);
  expect(await pointOf(shot.sequenceId, "refine", "refines-afresh")).toBeUndefined();
});
