import * as bodies from "./bodies";
import * as checkpoint from "./checkpoint";
import * as configuration from "./configuration";
import * as gatheredLight from "./gathered-light";
import * as handOut from "./hand-out";
import * as nodeSettings from "./node-settings";
import * as plan from "./plan";
import * as scene from "./scene";

type Check = (value: unknown) => { readonly ok: boolean };

/** Compiled when they are first asked, so a schema that cannot be would be found by whoever asks. */
const CHECKERS = Object.entries<unknown>({
  ...bodies,
  ...checkpoint,
  ...configuration,
  ...gatheredLight,
  ...handOut,
  ...nodeSettings,
  ...plan,
  ...scene,
}).flatMap(([name, value]): [string, Check][] =>
  name.startsWith("check") && typeof value === "function" && value.length === 1
    ? [[name, value as Check]]
    : [],
);

test("there are checkers to try", () => expect(CHECKERS.length).toBeGreaterThan(15));
test.each(CHECKERS)("%s compiles its schema, and refuses what is nothing", (_name, check) =>
  expect(check(undefined).ok).toBe(false),
);
