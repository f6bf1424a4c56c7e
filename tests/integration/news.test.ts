/** A page that takes in what it is told holds what the server would say anew. */
import { QueryClient, QueryObserver } from "@tanstack/react-query";
import fs from "node:fs/promises";
import path from "node:path";
import type { LiveMessage } from "@/contract/live";
import type { SequenceView } from "@/contract/sequence-view";
import { countsOf } from "@/core/tally/tally";
import { unpackTally } from "@/core/tally/packed";
import { flagFrames } from "@/server/actions/flags";
import { startRun } from "@/server/actions/start-run";
import { closePool } from "@/server/db/pool";
import { catchUp, checkSequence } from "@/server/folder/check";
import { live } from "@/server/http/live";
import { requireSequence } from "@/server/store/shots";
import { viewSequence } from "@/server/views/sequence";
import { withChangesHeard } from "@/ui/live/changes-heard";
import { News } from "@/ui/live/news";
import { queryKeys } from "@/ui/live/query-keys";
import { putOtherPicture } from "../support/other-picture";
import { openStage, type Stage, until } from "../support/stage";

/** Long enough that a frame is seen while it is made. */
const SLOW = { width: 160, height: 90, samples: 40 };

let stage: Stage;
beforeAll(async () => {
  stage = await openStage();
});
afterAll(async () => {
  await stage.strike();
  await closePool();
});

/** What a page does with a sequence, without the page. */
function openPage(sequenceId: number) {
  const client = new QueryClient();
  const news = new News(client);
  const heard: LiveMessage[] = [];
  let asked = 0;
  const observer = new QueryObserver<SequenceView>(client, {
    queryKey: queryKeys.sequence(sequenceId),
    queryFn: () => {
      asked++;
      return withChangesHeard(() => viewSequence(sequenceId));
    },
    staleTime: Infinity,
  });
  const closeObserver = observer.subscribe(() => undefined);
  const leave = live().subscribe((message) => {
    heard.push(message);
    if (message.type === "changed" || message.type === "frames") news.take(message);
  });
  return {
    asked: () => asked,
    told: () => heard.filter((m) => m.type === "frames").length,
    view: () => observer.getCurrentResult().data,
    close: () => {
      leave();
      closeObserver();
      client.clear();
    },
  };
}

/** The clock moves these, and no news of theirs comes. */
const withoutPace = (view: SequenceView | undefined): unknown =>
  view && {
    ...view,
    runs: view.runs.map((run) => ({ ...run, framesAMinute: 0, likelyFinish: 0, lateFinish: 0 })),
  };

test("frames that are rendered, fail their check, are flagged and patched: what is taken in is what would be read anew", async () => {
  const shot = await stage.addShot("N1", { frames: "1-12", passes: ["beauty", "depth"], ...SLOW });
  const depth = (await viewSequence(shot.sequenceId)).siblings.find((s) => s.pass === "depth")!.id;
  const pages = [openPage(shot.sequenceId), openPage(depth)];
  try {
    const agree = (what: string) =>
      until(what, async () => {
        const now = await Promise.all([viewSequence(shot.sequenceId), viewSequence(depth)]);
        return now.every(
          (view, i) => JSON.stringify(withoutPace(pages[i]!.view())) === JSON.stringify(withoutPace(view)),
        );
      });
    const start = (policy: "fill" | "mend") =>
      startRun({ sequenceId: shot.sequenceId, phrase: "all", policy, nodes: null, scope: "version" });
    await agree("the page shows the empty sequence");
    await start("fill");
    await stage.startNode("quay-1");
    const beauty = pages[0]!;
    await until("frames are in work and made, as the page shows", () =>
      Promise.resolve(
        (({ results, activity }) => results.good > 2 && results.good < 12 && activity.rendering > 0)(
          countsOf(unpackTally(beauty.view()!.tally)),
        ),
      ),
    );
    await until("the run is done, as the page shows", () =>
      Promise.resolve(beauty.view()!.runs[0]?.state === "done"),
    );
    await agree("a finished run is shown as it is");
    // Each frame was told when it was leased and when it was made; the whole was asked for where the run
    // itself changed.
    expect(beauty.told()).toBeGreaterThanOrEqual(12);
    expect(beauty.asked()).toBeLessThan(beauty.told());

    await fs.truncate(path.join(shot.folder, "N1.0003.png"), 50);
    await checkSequence(await requireSequence(shot.sequenceId));
    // Not what the plan makes: rendered again, they come out differently.
    for (const frame of ["0005", "0006"])
      await putOtherPicture(path.join(shot.folder, "N1.0001.png"), path.join(shot.folder, `N1.${frame}.png`));
    await catchUp(await requireSequence(shot.sequenceId));
    await flagFrames(shot.sequenceId, "5-6", "too dark");
    await agree("what a check and a person found is shown");
    expect(beauty.view()!.findings.map((f) => f.frame)).toEqual([3, 5, 6]);
    await start("mend");
    await until("the page shows them patched", () =>
      Promise.resolve(beauty.view()!.runs[0]?.state === "done" && beauty.view()!.findings.length === 0),
    );
    await agree("patched frames and closed findings are shown as they are");
    expect(beauty.view()!.closedFindings).toHaveLength(3);
  } finally {
    for (const page of pages) page.close();
  }
});

test("a scene, a texture and a scene that is put back: an open page hears of each, though no event tells it", async () => {
  const shot = await stage.addShot("N2", { frames: "1-3", width: 32, height: 18, samples: 1 });
  await startRun({
    sequenceId: shot.sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: null,
    scope: "version",
  });
  await stage.startNode("quay-2");
  const page = openPage(shot.sequenceId);
  const shown = (state: "good" | "stale") =>
    until(`the page shows three ${state} frames`, () =>
      Promise.resolve(
        page.view() !== undefined && countsOf(unpackTally(page.view()!.tally)).results[state] === 3,
      ),
    );
  const scene = path.join(stage.projectFolder, "scenes/test.json");
  const texture = path.join(stage.projectFolder, "scenes/textures/check.png");
  const [sceneBefore, textureBefore] = [await fs.readFile(scene), await fs.readFile(texture)];
  try {
    await shown("good");
    await fs.writeFile(scene, JSON.stringify({ ...JSON.parse(sceneBefore.toString()), exposure: 1.5 }));
    await shown("stale");
    await fs.writeFile(scene, sceneBefore);
    await shown("good");
    await fs.writeFile(texture, Buffer.concat([textureBefore, Buffer.of(0)]));
    await shown("stale");
    await fs.writeFile(texture, textureBefore);
    await shown("good");
  } finally {
    page.close();
  }
});
