/** What other sites, and what was smuggled into a page, can do to a server on this machine: nothing. */
import http from "node:http";
import type { AddressInfo } from "node:net";
import { test as plain } from "@playwright/test";
import { expect, test } from "./alive";
import { onStage } from "./on-stage";

const on = onStage();

/** Another site of this machine, as the browser sees it. */
async function openSite(html: string) {
  const site = http.createServer((_request, response) => {
    response.setHeader("content-type", "text/html");
    response.end(html);
  });
  await new Promise<void>((resolve) => site.listen(0, "127.0.0.1", resolve));
  return {
    address: `http://127.0.0.1:${(site.address() as AddressInfo).port}`,
    close: () =>
      new Promise((resolve) => {
        site.close(resolve);
        // The browser keeps its own open.
        site.closeAllConnections();
      }),
  };
}

test("every answer forbids frames, guessed types and scripts that are not the server's; day and night still work", async ({
  page,
}) => {
  await on.stage.addShot("DO1", { frames: "1-2" });
  for (const path of ["/p/test-film", "/p/test-film/shots/DO1", "/nodes", "/help", "/api/health"]) {
    const { headers } = await fetch(`${on.address}${path}`).then((r) => ({ headers: r.headers }));
    const policy = headers.get("content-security-policy") ?? "";
    expect(policy).toContain("frame-ancestors 'none'");
    // Compiled code of this server may run; no text is ever evaluated.
    const scripts = /script-src ([^;]*)/.exec(policy)![1]!.split(" ");
    expect(scripts.filter((word) => word.includes("unsafe"))).toEqual(["'wasm-unsafe-eval'"]);
    expect(headers.get("x-content-type-options")).toBe("nosniff");
  }
  await page.emulateMedia({ colorScheme: "dark" });
  await page.goto(`${on.address}/p/test-film/shots/DO1`);
  await expect(page.locator("html.dark")).toBeAttached();
});

plain("a script that got into a page does not run", async ({ page }) => {
  await page.goto(`${on.address}/help`);
  await page.evaluate(() => {
    const script = document.createElement("script");
    script.textContent = "document.body.dataset.ran = 'yes'";
    document.body.append(script);
  });
  expect(await page.evaluate(() => document.body.dataset.ran ?? null)).toBeNull();
});

/** The status of a request as the browser would send it for another site. */
const askedBySite = (path: string, dest: string): Promise<number> =>
  new Promise((resolve, reject) => {
    http
      .get(
        `${on.address}${path}`,
        { headers: { "sec-fetch-site": "same-site", "sec-fetch-dest": dest, "sec-fetch-mode": "no-cors" } },
        (answer) => resolve(answer.resume().statusCode ?? 0),
      )
      .on("error", reject);
  });

plain(
  "another site can neither frame a page nor make the server work by a picture, a script or a form",
  async ({ page }) => {
    const thumbnail = "/api/projects/test-film/shots/DO1/thumbnail?scene=scenes/test.json&camera=main&time=1";
    const kept: string[] = [];
    const ended = (url: string): void => {
      if (url.startsWith(on.address)) kept.push(new URL(url).pathname);
    };
    page.on("response", (answer) => answer.status() === 403 && ended(answer.url()));
    page.on("requestfailed", (request) => ended(request.url()));
    const site = await openSite(`
    <img src="${on.address}${thumbnail}">
    <script src="${on.address}/api/projects"></script>
    <iframe src="${on.address}/help"></iframe>
    <form method="post" enctype="text/plain" action="${on.address}/api/pause">
      <input name='{"pause":"now","a":"' value='"}'>
    </form>
    <a href="${on.address}/help">help</a>`);
    try {
      await page.goto(site.address);
      await expect
        .poll(() => [...new Set(kept)].sort(), { timeout: 60_000 })
        .toEqual(["/api/projects", "/api/projects/test-film/shots/DO1/thumbnail", "/help"]);
      expect(page.frames()[1]!.url()).not.toBe(`${on.address}/help`);
      await page.evaluate(() => document.forms[0]!.submit());
      await expect.poll(() => kept, { timeout: 60_000 }).toContain("/api/pause");
      // The refusal is a page by now: a step to the next one must not cross its way.
      await page.waitForURL(`${on.address}/api/pause`);
      // Not only kept from the site: the server does nothing for it.
      expect(await askedBySite(thumbnail, "image")).toBe(403);
      expect(await askedBySite("/help", "iframe")).toBe(403);
      // A link is a person's way here.
      await page.goto(site.address);
      await page.getByRole("link", { name: "help" }).click();
      await expect(page.getByRole("heading", { name: "Help", exact: true })).toBeVisible();
    } finally {
      await site.close();
    }
  },
);
