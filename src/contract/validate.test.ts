import * as bodies from "./bodies";
import * as checkpoint from "./checkpoint";
import * as configuration from "./configuration";
import * as gatheredLight from "./gathered-light";
import * as handOut from "./hand-out";
import * as nodeSettings from "./node-settings";
import * as plan from "./plan";
import * as scene from "./scene";

/** Compiled when they are first asked, so a schema that cannot be would be found by whoever asks. */
const CHECKERS = Object.entries({
  ...bodies,
  ...checkpoint,
  ...configuration,
  ...gatheredLight,
  ...handOut,
  ...nodeSettings,
  ...plan,
  ...scene,
}).filter(
  (entry): entry is [string, (value: unknown) => { readonly ok: boolean }] =>
    entry[0].startsWith("check") && typeof entry[1] === "function" && entry[1].length === 1,
);

test("there are checkers to try", () => expect(CHECKERS.length).toBeGreaterThan(15));
test.each(CHECKERS)("%s compiles its schema, and refuses what is nothing", (_name, check) =>
  expect(check(undefined).ok).toBe(false),
);
