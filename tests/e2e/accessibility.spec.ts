/** Nothing serious stands in the way of anybody, by day or by night: every view is held against axe-core. */
import fs from "node:fs/promises";
import path from "node:path";
import AxeBuilder from "@axe-core/playwright";
import { expect, test } from "./alive";
import { onStage } from "./on-stage";

const on = onStage();
const SHOT = "/p/test-film/shots/AX010";
const VIEWS = [
  "/p/test-film",
  ...["plan", "prove", "run", "check", "patch"].map((bench) => `${SHOT}?bench=${bench}`),
  ...["plan", "prove", "run"].map((bench) => `/p/test-film/shots/AX020?bench=${bench}`),
  "/nodes",
  "/people",
  "/audit",
  "/http",
  "/help",
  "/check-folder",
  "/rebuild",
  "/shots/NOWHERE",
];

test.beforeAll(async () => {
  await on.stage.addShot("AX010", { frames: "1-6", passes: ["beauty", "depth"] });
  await on.stage.startNode("quay-1");
  await on.stage.cli("run", "AX010", "1-4", "--wait");
  // Frames of something else: those of the run, copied.
  const frames = path.join(on.stage.projectFolder, "AX010/v001/main/beauty");
  await fs.cp(frames, path.join(on.stage.root, "from-farm/AX020"), { recursive: true });
  await on.stage.cli("take-in", path.join(on.stage.root, "from-farm"), "--shot", "AX020");
});

for (const scheme of ["light", "dark"] as const)
  test(`axe finds nothing serious on any view, ${scheme === "light" ? "by day" : "by night"}`, async ({
    page,
  }) => {
    await page.emulateMedia({ colorScheme: scheme, reducedMotion: "reduce" });
    const found: string[] = [];
    const look = async (what: string): Promise<void> => {
      const { violations, passes } = await new AxeBuilder({ page }).analyze();
      // It has looked at something.
      expect(passes.length).toBeGreaterThan(5);
      for (const v of violations)
        if (v.impact === "serious" || v.impact === "critical")
          found.push(
            `${what}: ${v.id}: ${v.nodes
              .map((n) => `${n.target.join(" ")} ${n.failureSummary ?? ""}`)
              .join(" | ")
              .slice(0, 400)}`,
          );
    };
    for (const view of VIEWS) {
      await page.goto(`${on.address}${view}`);
      await expect(page.getByRole("link", { name: "Plain Tally" })).toBeVisible();
      await expect(page.getByText(/node/).first()).toBeVisible();
      await look(view);
    }
    const known = new URLSearchParams({ folder: path.join(on.stage.root, "from-farm/AX020") });
    for (const folder of [
      known,
      new URLSearchParams({ folder: path.join(on.stage.projectFolder, "scenes") }),
    ]) {
      await page.goto(`${on.address}/p/test-film/take-in?${folder}`);
      await expect(page.getByRole("region", { name: "What was found" })).toBeVisible();
      await look(`take-in ${folder}`);
    }
    await page.goto(`${on.address}${SHOT}?bench=check`);
    await page.getByLabel("Frame phrase").fill("1");
    await page.getByRole("button", { name: "Look", exact: true }).click();
    await expect(page.getByTestId("look")).toBeVisible();
    await look("Look");
    expect(found).toEqual([]);
  });
