/** What addresses of the configuration are told, by a server that writes down what it hears. */
import crypto from "node:crypto";
import fs from "node:fs/promises";
import http from "node:http";
import type { AddressInfo } from "node:net";
import { flagFrames } from "@/server/actions/flags";
import { startRun } from "@/server/actions/start-run";
import { closePool, pool } from "@/server/db/pool";
import { rows, write } from "@/server/db/rows";
import { runById } from "@/server/store/runs";
import { tellWebhooks } from "@/server/webhooks/tell-webhooks";
import { openStage, type Stage, until } from "../support/stage";

const SECRET = `whsec_${crypto.randomBytes(32).toString("base64")}`;
interface Heard {
  readonly path: string;
  readonly headers: http.IncomingHttpHeaders;
  readonly body: string;
}

let stage: Stage;
let shot: Awaited<ReturnType<Stage["addShot"]>>;
let address: string;
const heard: Heard[] = [];
/** What the next request is answered, by its path; 204 where nothing is said. */
const answers = new Map<string, number>();
const ear = http.createServer((request, response) => {
  let body = "";
  request.on("data", (data: Buffer) => (body += data.toString()));
  request.on("end", () => {
    const path = request.url!;
    heard.push({ path, headers: request.headers, body });
    response.writeHead(answers.get(path) ?? 204, { location: `${address}/elsewhere` }).end();
  });
});

const configure = (webhooks: object): Promise<void> =>
  fs.writeFile(stage.env.PLAIN_TALLY_CONFIG!, JSON.stringify({ webhooks }));
const typesAt = (path: string): string[] =>
  heard.filter((h) => h.path === path).map((h) => (JSON.parse(h.body) as { type: string }).type);

beforeAll(async () => {
  await new Promise<void>((resolve) => ear.listen(0, "127.0.0.1", resolve));
  address = `http://127.0.0.1:${(ear.address() as AddressInfo).port}`;
  stage = await openStage();
  shot = await stage.addShot("W1");
  await configure({
    all: { url: `${address}/all`, secret: SECRET },
    ends: { url: `${address}/ends`, secret: SECRET, about: ["run.ended"] },
  });
  await tellWebhooks(pool());
  await stage.startNode("quay-1");
  const { runId } = await startRun({
    ...{ sequenceId: shot.sequenceId, phrase: "1-2", policy: "fill", nodes: null, scope: "version" },
  });
  await until("the run is done", async () => (await runById(pool(), runId))?.state === "done");
  await flagFrames(shot.sequenceId, "1", "too dark", "Mara");
});
afterAll(async () => {
  await stage.strike();
  await closePool();
  ear.close();
});

test("a run's end and a finding are told to whoever wants to hear of them, signed so that it can be proved", async () => {
  answers.set("/all", 500);
  await tellWebhooks(pool());
  expect(typesAt("/ends")).toEqual(["run.ended"]);
  expect([...typesAt("/all")].sort()).toEqual(["finding.opened", "run.ended"]);
  const { headers, body } = heard.find((h) => h.path === "/ends")!;
  const signed = crypto
    .createHmac("sha256", Buffer.from(SECRET.slice("whsec_".length), "base64"))
    .update(`${headers["webhook-id"] as string}.${headers["webhook-timestamp"] as string}.${body}`)
    .digest("base64");
  expect(headers["webhook-signature"]).toBe(`v1,${signed}`);
  expect(Math.abs(Number(headers["webhook-timestamp"]) - Date.now() / 1000)).toBeLessThan(600);
  expect(JSON.parse(body)).toMatchObject({
    type: "run.ended",
    data: { shot: "W1", version: "v001", state: "done", made: 2, failed: 0, left: 0 },
  });
});

test("what was not heard is told again under the same id, and no more once it was", async () => {
  const first = heard.filter((h) => h.path === "/all").map((h) => h.headers["webhook-id"]);
  const listed = await stage.cli("webhook", "list");
  expect(listed.stdout).toMatch(/^all .*2 to be told.*not heard: it answered 500$/m);
  expect(listed.stdout).not.toContain("whsec_");
  answers.delete("/all");
  await tellWebhooks(pool());
  expect(heard.filter((h) => h.path === "/all").length).toBe(first.length);
  await write(pool(), "UPDATE webhook_call SET next_at = NOW(3) WHERE closed_at IS NULL", []);
  await tellWebhooks(pool());
  await tellWebhooks(pool());
  const all = heard.filter((h) => h.path === "/all").map((h) => h.headers["webhook-id"]);
  expect(all.slice(first.length).sort()).toEqual([...first].sort());
  expect((await stage.cli("webhook", "try", "all")).stdout).toBe("all has heard it.\n");
});

test("it goes nowhere that the configuration does not name, and what is named no more is forgotten", async () => {
  answers.set("/ends", 302);
  const tried = await stage.cli("webhook", "try", "ends");
  expect([tried.code, tried.stderr]).toEqual([3, "plain-tally: ends has not heard it: it answered 302\n"]);
  expect(typesAt("/elsewhere")).toEqual([]);
  await flagFrames(shot.sequenceId, "2", "too dark", "Mara");
  await configure({ ends: { url: `${address}/ends`, secret: SECRET, about: ["run.ended"] } });
  await tellWebhooks(pool());
  expect(await rows(pool(), "SELECT name FROM webhook")).toEqual([{ name: "ends" }]);
  expect(await rows(pool(), "SELECT id FROM webhook_call WHERE webhook = 'all'")).toEqual([]);
  await configure({ ends: { url: `${address}/ends`, secret: "whsec_short" } });
  expect((await stage.cli("webhook", "list")).stderr).toMatch(/line 1.*webhooks/);
});
