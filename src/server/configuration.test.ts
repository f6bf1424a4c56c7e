import fs from "node:fs";
import os from "node:os";
import path from "node:path";
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
afterAll(() => KEYS.forEach((key, i) => {
  if (before[i] === undefined) delete process.env[key];
  else process.env[key] = before[i];
}));

const write = (file: string, value: unknown): void => {
  fs.mkdirSync(path.dirname(path.join(home, file)), { recursive: true });
  fs.writeFileSync(path.join(home, file), typeof value === "string" ? value : JSON.stringify(value));
};

test("without anything it says how to get a database", () => expect(() => settings()).toThrow("npm run demo"));

test("the running demo's private database is found, and one root under var/frames", () => {
  write("var/run/state.json", { databaseUrl: "mysql://a@127.0.0.1/x" });
  expect(settings()).toEqual({ home, databaseUrl: "mysql://a@127.0.0.1/x", roots: { frames: path.join(home, "var/frames") } });
});

test("the configuration file goes before the demo, the environment before both", () => {
  write("var/run/state.json", { databaseUrl: "mysql://a@127.0.0.1/x" });
  write("plain-tally.config.json", { databaseUrl: "mysql://b@127.0.0.1/y", roots: { frames: "/mnt/frames" } });
  expect(settings()).toMatchObject({ databaseUrl: "mysql://b@127.0.0.1/y", roots: { frames: "/mnt/frames" } });
  process.env.PLAIN_TALLY_DATABASE_URL = "mysql://c@127.0.0.1/z";
  process.env.PLAIN_TALLY_ROOTS = "frames=/a:archive=/b";
  expect(settings()).toMatchObject({ databaseUrl: "mysql://c@127.0.0.1/z", roots: { frames: "/a", archive: "/b" } });
});

test.each([
  ["not JSON", "{", "is not JSON"],
  ["of a key nobody knows", { databseUrl: "mysql://x" }, 'the key "databseUrl" is not known'],
])("a configuration file that is %s is told, not passed over", (_name, value, message) => {
  write("plain-tally.config.json", value);
  expect(() => settings()).toThrow(message);
});
