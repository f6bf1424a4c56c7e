/** Where the pages are reached over a network: signing in, doing what one may, and going. */
import AxeBuilder from "@axe-core/playwright";
import { addPerson } from "@/server/actions/people";
import type { PersonWithKey } from "@/contract/people";
import { expect, test } from "./alive";
import { openStage } from "../support/stage";
import { onStage } from "./on-stage";

let mara: PersonWithKey;
let keeper: PersonWithKey;

const on = onStage(async () => {
  const stage = await openStage();
  mara = await addPerson({ name: "Mara Lind", role: "look" }, null);
  keeper = await addPerson({ name: "Ines", role: "keep-house" }, null);
  await stage.addShot("AC010", { frames: "1-4" });
  process.env.PLAIN_TALLY_HOSTS = "house.test:4310";
  return stage;
});
test.afterAll(() => void delete process.env.PLAIN_TALLY_HOSTS);

test("who comes without a key is asked for one, and then is where they wanted to be; looking is all they may", async ({
  page,
}) => {
  await page.goto(`${on.address}/p/test-film/shots/AC010?bench=run`);
  await expect(page).toHaveURL(/\/sign-in\?to=/);
  expect((await new AxeBuilder({ page }).analyze()).violations.filter((v) => v.impact === "serious")).toEqual(
    [],
  );
  await page.getByLabel("Your name").fill("Mara Lind");
  await page.getByLabel("Your key").fill("k7m2p-00000-00000-00000");
  await page.keyboard.press("Enter");
  await expect(page.getByText("Name and key do not belong together.")).toBeVisible();
  // What was typed is there; the key is typed again.
  await expect(page.getByLabel("Your name")).toHaveValue("Mara Lind");
  await page.getByLabel("Your key").fill(mara.key);
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page).toHaveURL(/shots\/AC010\?bench=run/);
  await expect(page.getByTestId("account")).toContainText("Mara Lind");

  await page.goto(`${on.address}/nodes`);
  await page
    .getByRole("button", { name: "Pause all now" })
    .or(page.getByText("No node has ever worked"))
    .first()
    .waitFor();
  await page.goto(`${on.address}/people`);
  await expect(page.getByText("You may look here; this takes somebody who may keep house.")).toBeVisible();

  await page.getByRole("button", { name: "Sign out" }).click();
  await expect(page).toHaveURL(/\/sign-in/);
  await page.goto(`${on.address}/projects`);
  await expect(page).toHaveURL(/\/sign-in\?to=%2Fprojects/);
});

test("a sign-in that would lead to another site leads home", async ({ page }) => {
  await page.goto(`${on.address}/sign-in?to=${encodeURIComponent("//elsewhere.test/")}`);
  await page.getByLabel("Your name").fill("Mara Lind");
  await page.getByLabel("Your key").fill(mara.key);
  await page.keyboard.press("Enter");
  await expect(page.getByTestId("account")).toBeVisible();
  expect(new URL(page.url()).origin).toBe(on.address);
});

test("who keeps the house lets somebody in, reads the key once, turns them out, and finds it in the audit", async ({
  page,
}) => {
  await page.goto(`${on.address}/people`);
  await page.getByLabel("Your name").fill("Ines");
  await page.getByLabel("Your key").fill(keeper.key);
  await page.keyboard.press("Enter");
  await page.getByLabel("Somebody else").fill("Jon");
  await page.getByRole("button", { name: "Let them in" }).click();
  await expect(page.getByTestId("told-key")).toContainText("the key of Jon");
  const jon = page.locator('[data-testid="person"][data-name="Jon"]');
  await jon.getByLabel("What Jon may do").selectOption("mark");
  await expect(jon).toContainText("looks, flags, judges odd frames");
  await jon.getByRole("button", { name: "Turn out…" }).click();
  await jon.getByRole("button", { name: "Turn Jon out" }).click();
  await expect(jon).toHaveCount(0);
  const ines = page.locator('[data-testid="person"][data-name="Ines"]');
  await ines.getByRole("button", { name: "Turn out…" }).click();
  await ines.getByRole("button", { name: "Turn Ines out" }).click();
  await expect(ines.getByRole("alert")).toContainText("Ines is the only one who keeps the house");

  await page.getByRole("link", { name: "What was done, by whom" }).click();
  const lines = page.getByTestId("audit-line");
  await expect(lines.first()).toBeVisible();
  await page.getByLabel("Only lines with").fill("jon");
  await expect(lines).toHaveCount(3);
  await expect(lines.first()).toContainText(/Ines.*took a person's key away.*Jon.*done/);
  const download = page.waitForEvent("download");
  await page.getByRole("link", { name: "All of it as CSV" }).click();
  expect((await download).suggestedFilename()).toBe("plain-tally-audit.csv");
});
