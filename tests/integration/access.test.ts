/** Where the pages are reached over a network, nothing is to be had without a key, and nobody does more than they may. */
import fs from "node:fs";
import https from "node:https";
import os from "node:os";
import path from "node:path";
import { mayDo, ROLES, type Role } from "@/core/access/roles";
import { OPEN_ROUTES, OPERATIONS } from "@/contract/operations";
import type { AuditView, PersonWithKey } from "@/contract/people";
import { addPerson, idOfPerson } from "@/server/actions/people";
import { closePool, pool } from "@/server/db/pool";
import { rows } from "@/server/db/rows";
import { freePort } from "../../scripts/lib/mariadb.mjs";
import { machineAt } from "../support/machine";
import { HOME, openStage, type Stage, until } from "../support/stage";

let stage: Stage;
let address: string;
/** By role: what its browser sends. */
const cookies = new Map<Role, string>();
const keys = new Map<Role, PersonWithKey>();

const ask = (
  place: string,
  { role, ...init }: RequestInit & { readonly role?: Role } = {},
): Promise<Response> =>
  fetch(`${address}${place}`, {
    redirect: "manual",
    ...init,
    headers: {
      ...(init.body === undefined ? {} : { "content-type": "application/json" }),
      ...(role === undefined ? {} : { cookie: cookies.get(role)! }),
      ...(init.headers as Record<string, string> | undefined),
    },
  });
const signIn = (name: string, key: string): Promise<Response> =>
  ask("/api/sign-in", { method: "POST", body: JSON.stringify({ name, key }) });
const codeOf = async (response: Response): Promise<string> =>
  ((await response.json()) as { error: { code: string } }).error.code;

/** Method and route of everything below `src/app/api`. */
function allRoutes(): string[] {
  const api = path.join(HOME, "src/app/api");
  return fs
    .readdirSync(api, { recursive: true, encoding: "utf8" })
    .filter((file) => path.basename(file) === "route.ts")
    .flatMap((file) =>
      [
        ...fs
          .readFileSync(path.join(api, file), "utf8")
          .matchAll(/export (?:async function|function|const) (GET|POST|PUT|PATCH|DELETE)\b/g),
      ].map(([, method]) => `${method} /api/${path.dirname(file)}`),
    )
    .sort();
}

beforeAll(async () => {
  stage = await openStage();
  for (const role of ROLES) keys.set(role, await addPerson({ name: `May ${role}`, role }, null));
  process.env.PLAIN_TALLY_HOSTS = "house.test:4310";
  ({ address } = await stage.startServer());
  for (const [role, { name, key }] of keys) {
    const response = await signIn(name, key);
    expect(response.status).toBe(200);
    cookies.set(role, response.headers.get("set-cookie")!.split(";")[0]!);
  }
});
afterAll(async () => {
  delete process.env.PLAIN_TALLY_HOSTS;
  await stage.strike();
  await closePool();
});

test("every route that does something says which role it takes, and no other is told of", () => {
  const routes = allRoutes();
  expect(routes.length).toBeGreaterThan(90);
  const doing = routes.filter((route) => !route.startsWith("GET") && !OPEN_ROUTES.has(route));
  expect(
    Object.keys(OPERATIONS)
      .filter((key) => !key.startsWith("GET"))
      .sort(),
  ).toEqual(doing);
  for (const key of Object.keys(OPERATIONS)) expect(routes).toContain(key);
});

test("without a key nothing is answered but health, who one is, and the sign-in", async () => {
  for (const route of allRoutes().filter((r) => !OPEN_ROUTES.has(r))) {
    const [method = "", place = ""] = route.split(" ");
    const response = await ask(place.replace(/\[\w+\]/g, "1"), { method });
    expect([route, response.status]).toEqual([route, 401]);
    expect(await codeOf(response)).toBe("sign-in-needed");
  }
  for (const place of ["/", "/p/test-film/shots/A?version=v001", "/settings", "/no-such-page"]) {
    const response = await ask(place);
    expect([place, response.status, response.headers.get("location")]).toEqual([
      place,
      303,
      `/sign-in?to=${encodeURIComponent(place)}`,
    ]);
  }
  expect(await (await ask("/api/me")).json()).toEqual({ isLocked: true, name: null, role: null });
  expect((await ask("/sign-in")).status).toBe(200);
});

test("a cookie that is none, or another's work, opens nothing", async () => {
  for (const cookie of [
    "plain-tally-session=",
    "plain-tally-session=abc",
    `plain-tally-session=${"A".repeat(43)}`,
    "x=y",
  ])
    expect((await ask("/api/projects", { headers: { cookie } })).status).toBe(401);
});

test.each(ROLES)("who may %s is refused what takes more, with a sentence", async (role) => {
  const beyond = Object.entries(OPERATIONS).filter(([, { needs }]) => !mayDo(role, needs));
  expect(beyond.length > 0).toBe(role !== "keep-house");
  for (const [operation] of beyond) {
    const [method = "", route = ""] = operation.split(" ");
    const response = await ask(route.replace(/\[\w+\]/g, "1"), { method, role });
    expect([operation, response.status]).toEqual([operation, 403]);
    expect(await codeOf(response)).toBe("role-short");
  }
  expect(await (await ask("/api/me", { role })).json()).toEqual({
    isLocked: true,
    name: `May ${role}`,
    role,
  });
  expect((await ask("/api/shots-that-are-not-there", { role })).status).toBe(404);
  expect((await ask("/projects", { role })).status).toBe(200);
});

test("what a role may do it does, under the name that signed in and no other", async () => {
  const { sequenceId } = await stage.addShot("AC010", { frames: "1-4" });
  const body = JSON.stringify({ phrase: "all", policy: "fill", nodes: null, scope: "version" });
  const place = `/api/sequences/${sequenceId}/runs`;
  expect((await ask(place, { method: "POST", role: "mark", body })).status).toBe(403);
  const started = await ask(place, {
    method: "POST",
    role: "run",
    body,
    headers: { "x-plain-tally-who": "Somebody", "x-plain-tally-deed": "1" },
  });
  expect(started.status).toBe(200);
  expect(await rows(pool(), "SELECT who FROM deed WHERE did = 'start'")).toEqual([{ who: "May run" }]);
  const { lines } = (await (await ask("/api/audit", { role: "keep-house" })).json()) as AuditView;
  expect(
    lines.slice(0, 2).map(({ who, role, did, what, status }) => ({ who, role, did, what, status })),
  ).toEqual([
    { who: "May run", role: "run", did: "POST /api/sequences/[id]/runs", what: place, status: 200 },
    { who: "May mark", role: "mark", did: "POST /api/sequences/[id]/runs", what: place, status: 403 },
  ]);
  const csv = await (await ask("/api/audit?as=csv", { role: "keep-house" })).text();
  expect(csv.split("\r\n")[1]).toMatch(/,May run,run,started a run,\/api\/sequences\/\d+\/runs,200$/);
  expect((await stage.cli("audit", "--last", "1")).stdout).toContain("May run  started a run");
});

test("a wrong key and a wrong name are told alike; after some tries none is looked at for a while", async () => {
  const { key } = await addPerson({ name: "Tried", role: "look" }, null);
  const sentence = async (response: Response): Promise<string> =>
    ((await response.json()) as { error: { message: string } }).error.message;
  const [wrong, nobody] = [await signIn("Tried", "k7m2p-00000"), await signIn("Nobody at all", key)];
  expect([wrong.status, nobody.status]).toEqual([401, 401]);
  expect(await sentence(wrong)).toBe(await sentence(nobody));
  // All at one moment: none slips through before the first is counted.
  const tries = await Promise.all(Array.from({ length: 12 }, () => signIn("Tried", "wrong")));
  expect(tries.map(({ status }) => status).sort()).toEqual([
    ...Array.from({ length: 7 }, () => 401),
    ...Array.from({ length: 5 }, () => 429),
  ]);
  expect((await signIn("Tried", key)).status).toBe(429);
  expect((await signIn(keys.get("look")!.name, keys.get("look")!.key)).status).toBe(200);
});

test("no program of a page reads what the browser has, no other site makes it send that, and it goes by TLS alone", async () => {
  const { name, key } = keys.get("look")!;
  const cookie = (await signIn(name, ` ${key}\n`)).headers.get("set-cookie")!;
  for (const part of ["HttpOnly", "SameSite=Lax", "Secure", "Path=/"]) expect(cookie).toContain(part);
  const kept = await rows<{ hash: string }>(pool(), "SELECT token_hash AS hash FROM session");
  const [, token = ""] = /=([^;]+)/.exec(cookie)!;
  expect(kept.map(({ hash }) => hash)).not.toContain(token);
  expect(JSON.stringify(await rows(pool(), "SELECT * FROM person"))).not.toContain(key);
});

test("whoever signs out, is turned out, or gets another key is out with the next question", async () => {
  const added = await addPerson({ name: "Short", role: "run" }, null);
  const come = async (key: string): Promise<string> =>
    (await signIn("Short", key)).headers.get("set-cookie")!.split(";")[0]!;
  const status = async (cookie: string): Promise<number> =>
    (await ask("/api/projects", { headers: { cookie } })).status;
  const first = await come(added.key);
  expect(await status(first)).toBe(200);
  await ask("/api/sign-out", { method: "POST", headers: { cookie: first } });
  expect(await status(first)).toBe(401);

  const second = await come(added.key);
  const id = await idOfPerson("Short");
  const changed = await ask(`/api/people/${id}`, {
    method: "PATCH",
    role: "keep-house",
    body: JSON.stringify({ newKey: true, role: "mark" }),
  });
  const { key } = (await changed.json()) as PersonWithKey;
  expect([await status(second), (await signIn("Short", added.key)).status]).toEqual([401, 401]);
  const third = await come(key);
  expect(await (await ask("/api/me", { headers: { cookie: third } })).json()).toMatchObject({ role: "mark" });
  expect((await ask(`/api/people/${id}`, { method: "DELETE", role: "keep-house" })).status).toBe(200);
  expect(await status(third)).toBe(401);
});

test("somebody must be left who keeps the house", async () => {
  const id = await idOfPerson("May keep-house");
  for (const init of [
    { method: "DELETE" },
    { method: "PATCH", body: JSON.stringify({ role: "run" }) },
  ] as const)
    expect(await codeOf(await ask(`/api/people/${id}`, { ...init, role: "keep-house" }))).toBe(
      "person-last-keeper",
    );
});

test("people are let in, changed and turned out from a shell, each with a line in the audit", async () => {
  const added = await stage.cli("person", "add", "Ines", "--role", "mark", "--json");
  const { key } = JSON.parse(added.stdout) as PersonWithKey;
  expect((await signIn("Ines", key)).status).toBe(200);
  expect((await stage.cli("person", "add", "Ines")).stderr).toContain("somebody named Ines already");
  expect((await stage.cli("person", "change", "Ines", "--role", "look")).stdout).toBe("Ines may look now.\n");
  expect((await stage.cli("person", "list")).stdout).toContain("Ines  look\n");
  expect((await stage.cli("person", "remove", "Ines")).code).toBe(0);
  expect((await stage.cli("person", "remove", "Ines")).code).toBe(2);
  expect((await stage.cli("person", "add", "a/b")).code).toBe(2);
  expect((await stage.cli("person", "change", "May run", "--role", "king")).code).toBe(2);
  const csv = (await stage.cli("audit", "--csv")).stdout;
  expect(csv).toMatch(/,let a person in,Ines,200\r\n/);
  expect(csv).toMatch(/,took a person's key away,Ines,200\r\n/);
});

test("a body of another kind, a name of another house, and a page of another site are turned away", async () => {
  const form = await ask("/api/pause", {
    method: "POST",
    role: "keep-house",
    body: "pause=now",
    headers: { "content-type": "application/x-www-form-urlencoded" },
  });
  expect([form.status, await codeOf(form)]).toEqual([415, "body-type"]);
  const origin = await ask("/api/pause", {
    method: "POST",
    role: "keep-house",
    body: "{}",
    headers: { origin: "https://elsewhere.test" },
  });
  expect(origin.status).toBe(403);
});

test("who asks without end is told to wait, and others are not", async () => {
  const answers = await Promise.all(
    Array.from({ length: 260 }, () => ask("/api/pause", { method: "POST", role: "keep-house", body: "{}" })),
  );
  const statuses = new Set(answers.map(({ status }) => status));
  expect([...statuses].sort()).toEqual([422, 429]);
  expect((await ask("/api/projects", { role: "look" })).status).toBe(200);
});

test("alone on loopback nobody signs in, and what is done is noted with the name that was given", async () => {
  delete process.env.PLAIN_TALLY_HOSTS;
  const alone = await stage.startServer();
  expect(await (await fetch(`${alone.address}/api/me`)).json()).toEqual({
    isLocked: false,
    name: null,
    role: null,
  });
  const paused = await fetch(`${alone.address}/api/pause`, {
    method: "POST",
    body: JSON.stringify({ pause: "no" }),
    headers: { "content-type": "application/json", "x-plain-tally-who": "Jon" },
  });
  expect(paused.status).toBe(200);
  expect((await stage.cli("audit", "--last", "1", "--json")).stdout).toMatch(
    /"who":"Jon","role":null,"did":"POST \/api\/pause","what":"\/api\/pause","status":200/,
  );
});

test("started for a network, it makes its first person, and answers by TLS alone", async () => {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "plain-tally-door-"));
  const port = await freePort();
  const house = machineAt(folder).start([
    "start",
    "--no-node",
    "--host",
    "127.0.0.2",
    "--port",
    String(port),
  ]);
  const over = new Promise((resolve) => house.process.once("exit", resolve));
  try {
    await until("the house is up", () => {
      if (house.process.exitCode !== null) throw new Error(house.said());
      return Promise.resolve(house.said().includes(`Plain Tally is at  https://127.0.0.2:${port}`));
    });
    const [, name = "", key = ""] = /^ *(.+) may keep house\. The key, told this once: {2}(\S+)$/m.exec(
      house.said(),
    )!;
    const ca = fs.readFileSync(path.join(folder, "tls/house.crt"), "utf8");
    const asked = (place: string, body?: unknown): Promise<{ status: number; cookie: string }> =>
      new Promise((resolve, reject) => {
        const request = https.request(
          {
            ...{ host: "127.0.0.2", port, path: place, ca, checkServerIdentity: () => undefined },
            method: body === undefined ? "GET" : "POST",
            headers: { "content-type": "application/json" },
          },
          (response) => {
            response.resume();
            response.once("end", () =>
              resolve({
                status: response.statusCode ?? 0,
                cookie: response.headers["set-cookie"]?.[0] ?? "",
              }),
            );
          },
        );
        request.on("error", reject);
        request.end(body === undefined ? undefined : JSON.stringify(body));
      });
    expect((await asked("/api/projects")).status).toBe(401);
    expect(await asked("/api/sign-in", { name, key })).toMatchObject({
      status: 200,
      cookie: expect.stringContaining("Secure"),
    });
    await expect(fetch(`http://127.0.0.2:${port}/`)).rejects.toThrow();
  } finally {
    house.process.kill("SIGTERM");
    await over;
    fs.rmSync(folder, { recursive: true, force: true });
  }
});
