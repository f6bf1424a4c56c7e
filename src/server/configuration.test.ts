import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { USUAL_KEEP } from "@/contract/configuration";
import { settings } from "./configuration";

const KEYS = ["PLAIN_TALLY_HOME", "PLAIN_TALLY_DATABASE_URL", "PLAIN_TALLY_ROOTS"] as const;
const before = KEYS.map((key) => process.env[key]);
let home: string;
beforeEach(() => {
  home = fs.mkdtempSync(path.join(os.tmpdir(), "plain-tally-home-"));
  for (const key of KEYS) delete process.env[key];
  process.env.PLAIN_TALLY_HOME = home;
});
afterEach(() => fs.rmSync(home, { recursive: true, force: true }));
afterAll(() =>
  KEYS.forEach((key, i) => {
    if (before[i] === undefined) delete process.env[key];
    else process.env[key] = before[i];
  }),
);

const write = (file: string, value: unknown): void => {
  fs.mkdirSync(path.dirname(path.join(home, file)), { recursive: true });
  fs.writeFileSync(path.join(home, file), typeof value === "string" ? value : JSON.stringify(value));
};

test("without anything it says how to get a database", () =>
  expect(() => settings()).toThrow("npm run demo"));

test("the running demo's private database is found, and one root under var/frames", () => {
  write("var/run/state.json", { databaseUrl: "mysql://a@127.0.0.1/x" });
  expect(settings()).toEqual({
    home,
    databaseUrl: "mysql://a@127.0.0.1/x",
    roots: { frames: path.join(home, "var/frames") },
    renderers: {},
    programCalls: { whenRunEnds: null, whenHandedOver: null },
    keep: USUAL_KEEP,
    sources: {
      data: "usual",
      databaseUrl: "usual",
      roots: "usual",
      renderers: "usual",
      whenRunEnds: "usual",
      whenHandedOver: "usual",
      keep: "usual",
    },
  });
});

test("how long one thing is kept can be said, and the rest is as usual; no days are no bound", () => {
  write("plain-tally.config.json", { databaseUrl: "mysql://b@127.0.0.1/y", keep: { logDays: 7 } });
  expect(settings().keep).toEqual({ ...USUAL_KEEP, logDays: 7 });
  write("plain-tally.config.json", { databaseUrl: "mysql://b@127.0.0.1/y", keep: { logDays: 0 } });
  expect(() => settings()).toThrow("line 1: keep/logDays");
});

test("the configuration file goes before the demo, the environment before both", () => {
  write("var/run/state.json", { databaseUrl: "mysql://a@127.0.0.1/x" });
  write("plain-tally.config.json", {
    databaseUrl: "mysql://b@127.0.0.1/y",
    roots: { frames: "/mnt/frames" },
  });
  expect(settings()).toMatchObject({
    databaseUrl: "mysql://b@127.0.0.1/y",
    roots: { frames: "/mnt/frames" },
  });
  process.env.PLAIN_TALLY_DATABASE_URL = "mysql://c@127.0.0.1/z";
  process.env.PLAIN_TALLY_ROOTS = "frames=/a:archive=/b";
  expect(settings()).toMatchObject({
    databaseUrl: "mysql://c@127.0.0.1/z",
    roots: { frames: "/a", archive: "/b" },
  });
});

test.each([
  ["not JSON", "{", "is not JSON"],
  ["of a key nobody knows", { databseUrl: "mysql://x" }, 'the key "databseUrl" is not known'],
])("a configuration file that is %s is told, not passed over", (_name, value, message) => {
  write("plain-tally.config.json", value);
  expect(() => settings()).toThrow(message);
});

const renderer = (change: object) => ({
  databaseUrl: "mysql://a@127.0.0.1/x",
  renderers: { drawn: { program: "draw", arguments: ["{scene}", "{output}"], ...change } },
});

test("renderers are declared under a name that plans use", () => {
  write("plain-tally.config.json", renderer({ timeoutSeconds: 60, progress: "(\\d+) %" }));
  expect(settings().renderers).toEqual({
    drawn: { program: "draw", arguments: ["{scene}", "{output}"], timeoutSeconds: 60, progress: "(\\d+) %" },
  });
});

test.each([
  [
    "a placeholder that means nothing",
    renderer({ arguments: ["{picture}"] }),
    /line 1: renderers\/drawn\/arguments has \{picture\} in its arguments; there are \{scene\}/,
  ],
  [
    "no regular expression",
    renderer({ progress: "(" }),
    /renderers\/drawn\/progress has no regular expression/,
  ],
  [
    "a call at the end that names what is not there",
    { ...renderer({}), whenRunEnds: { program: "tell", arguments: ["{colour}"] } },
    /whenRunEnds\/arguments has \{colour\}/,
  ],
  [
    "a call for handovers that names what only runs have",
    { ...renderer({}), whenHandedOver: { program: "tell", arguments: ["{left}"] } },
    /whenHandedOver\/arguments has \{left\}; there are \{handover\}/,
  ],
  ["an argument that is no text", renderer({ arguments: [1] }), /arguments/],
  [
    "the stand-in's own name",
    { ...renderer({}), renderers: { "stand-in": { program: "x", arguments: ["x"] } } },
    /renderers/,
  ],
])("a renderer with %s is refused with its place", (_what, configuration, message) => {
  write("plain-tally.config.json", configuration);
  expect(() => settings()).toThrow(message);
});
