/**
 * Ten thousand requests that nobody would make, from the document that describes the interface: none finds a mistake of the
 * server, and none gets out of the folders that it is for.
 */
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import pLimit from "p-limit";
import { openApi, type OpenApi } from "@/contract/openapi";
import { OPERATION_BODIES } from "@/contract/operation-bodies";
import { closePool, pool } from "@/server/db/pool";
import { rows } from "@/server/db/rows";
import { randomRequests, type RandomRequest } from "../support/random-requests";
import { openStage, type Stage } from "../support/stage";

const SEED = 20_261_201;
const REQUESTS = 10_000;
const AT_ONCE = 8;
/** A stream that never ends; the demo takes minutes to make. */
const WITHOUT = new Set(["GET /api/events", "POST /api/demo"]);
const SECRET = "what lies beside the root is nobody's";

let stage: Stage;
let address: string;
let outside: string;

beforeAll(async () => {
  // Nobody else writes beside the root: what is new there has got out.
  outside = fs.mkdtempSync(path.join(os.tmpdir(), "plain-tally-fuzz-"));
  process.env.TMPDIR = outside;
  stage = await openStage();
  await stage.addShot("HO1", { frames: "1-3", width: 16, height: 9, samples: 1 });
  fs.writeFileSync(path.join(stage.root, "../canary"), SECRET);
  ({ address } = await stage.startServer());
});
afterAll(async () => {
  await stage.strike();
  await closePool();
  fs.rmSync(outside, { recursive: true, force: true });
});

const ask = ({ method, place, body }: RandomRequest): Promise<Response> =>
  fetch(`${address}${place}`, {
    method,
    redirect: "manual",
    ...(body === undefined ? {} : { body, headers: { "content-type": "application/json" } }),
  });

test("bodies that are made from the document are taken by what the server reads them through", () => {
  let seen = 0;
  const document = openApi("0");
  for (const request of randomRequests(document, SEED, WITHOUT)) {
    if (request.body === undefined || !request.fits) continue;
    const [check] = Object.values(OPERATION_BODIES[request.key.replace(/\{(\w+)\}/g, "[$1]")]!);
    expect([request.key, request.body, check!(JSON.parse(request.body))]).toEqual([
      request.key,
      request.body,
      { ok: true, value: expect.anything() },
    ]);
    if (++seen === 1_000) break;
  }
});

test("no answer is a mistake of the server, and nothing gets out", async () => {
  const document = (await (await fetch(`${address}/api/openapi`)).json()) as OpenApi;
  expect(document).toEqual(openApi((document.info as { version: string }).version));
  const beside = fs
    .readdirSync(path.join(stage.root, ".."))
    .filter((name) => !name.startsWith("plain-tally-"));
  const mistakes: string[] = [];
  const statuses = new Map<number, number>();
  const seen = new Set<string>();
  const limit = pLimit(AT_ONCE);
  const asked: Promise<void>[] = [];
  for (const request of randomRequests(document, SEED, WITHOUT)) {
    seen.add(request.key);
    const look = async (): Promise<void> => {
      // A connection that has rested may be closed at the very moment at which it is used: once more, then it counts.
      const response = await ask(request)
        .catch(() => ask(request))
        .catch((error: Error) => {
          mistakes.push(`${request.method} ${request.place} ${request.body} ${String(error.cause)}`);
          return null;
        });
      if (response === null) return;
      const text = await response.text();
      statuses.set(response.status, (statuses.get(response.status) ?? 0) + 1);
      const isMistake = response.status >= 500 && response.status !== 503;
      const isOut = text.includes(SECRET) || text.includes("root:x:0");
      const isPage =
        (response.headers.get("content-type") ?? "").includes("html") && text.includes("<img src=x>");
      if (isMistake || isOut || isPage)
        mistakes.push(
          `${response.status} ${request.method} ${request.place} ${request.body} ${text.slice(0, 200)}`,
        );
    };
    asked.push(limit(look));
    if (asked.length === REQUESTS) break;
  }
  await Promise.all(asked);
  expect(mistakes).toEqual([]);
  // All of it was asked for, and much of it was understood.
  expect(seen.size).toBe(Object.values(document.paths).flatMap((m) => Object.keys(m)).length - WITHOUT.size);
  expect([...statuses.values()].reduce((sum, n) => sum + n, 0)).toBe(REQUESTS);
  expect(statuses.get(200) ?? 0).toBeGreaterThan(REQUESTS / 20);
  expect(statuses.get(422) ?? 0).toBeGreaterThan(REQUESTS / 20);
  expect(
    fs.readdirSync(path.join(stage.root, "..")).filter((name) => !name.startsWith("plain-tally-")),
  ).toEqual(beside);
  for (const { folder } of await rows<{ folder: string }>(pool(), "SELECT folder FROM project"))
    expect(path.join(stage.root, folder).startsWith(stage.root)).toBe(true);
});
