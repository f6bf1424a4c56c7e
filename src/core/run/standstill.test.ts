import { type NodeAtWork, type RunAtWork, standstillOf } from "./standstill";

const RUN: RunAtWork = {
  ...{
    id: 7,
    state: "active",
    isHeld: false,
    isHandedOut: false,
    startAt: null,
    awaits: null,
    limit: null,
    dispatch: null,
    nodes: null,
    left: 5,
  },
};
const node = (name: string, state: string, asideFrom: readonly number[] = []): NodeAtWork => ({
  name,
  state,
  asideFrom,
  groups: name === "quay-1" ? ["farm"] : [],
});
const why = (run: Partial<RunAtWork>, nodes: readonly NodeAtWork[], inWork = 0) =>
  standstillOf({ ...RUN, ...run }, inWork, nodes, 1_000);

test.each<[string, Partial<RunAtWork>, readonly NodeAtWork[]]>([
  ["a node is free", {}, [node("a", "idle"), node("b", "paused")]],
  ["a node is at work elsewhere: it comes when it is done", {}, [node("a", "at-work")]],
  ["it has been stopped", { state: "stopped" }, []],
  ["nothing of it waits", { left: 0 }, []],
  ["its frames are with others", { isHandedOut: true }, []],
  ["its time has come", { startAt: 900 }, [node("a", "idle")]],
])("none where %s", (_what, run, nodes) => expect(why(run, nodes)).toBeNull());

test("while a frame of it is in work it does not stand still, whoever is paused", () =>
  expect(why({}, [node("a", "paused")], 1)).toBeNull());

test("what holds it comes first, then its time, then whether anybody may take its frames", () => {
  expect(why({ isHeld: true, startAt: 5_000 }, [])).toEqual({ code: "held" });
  expect(why({ startAt: 5_000 }, [])).toEqual({ code: "begins-later", at: 5_000 });
  const awaits = { run: 3, shot: "HL020", why: { code: "stopped" } } as const;
  expect(why({ awaits }, [])).toEqual({ code: "awaits", ...awaits });
  expect(why({}, [])).toEqual({ code: "no-node", wanted: null });
  const limit = { renderer: "ray", atOnce: 2, inWork: 2 };
  expect(why({ limit }, [node("a", "idle")])).toEqual({ code: "at-limit", renderer: "ray", atOnce: 2 });
  expect(why({ limit: { ...limit, inWork: 1 } }, [node("a", "idle")])).toBeNull();
  expect(why({ limit }, [node("a", "idle")], 1)).toBeNull();
  expect(why({ limit }, [node("a", "paused")])).toMatchObject({ code: "nodes-rest" });
  expect(why({ nodes: ["group:farm"] }, [node("a", "idle")])).toEqual({
    code: "no-node",
    wanted: ["group:farm"],
  });
  expect(why({ nodes: ["group:farm"] }, [node("a", "idle"), node("quay-1", "paused")])).toEqual({
    code: "nodes-rest",
    nodes: [{ name: "quay-1", rest: "paused" }],
  });
  expect(why({ nodes: ["crane"] }, [node("a", "idle")])).toEqual({ code: "no-node", wanted: ["crane"] });
});

test("what waits with a batch system is told where no node that stays takes it, with its reason or its refusal", () => {
  const told = { jobs: [12], reason: "Resources", fault: null };
  const dispatch = { ...told, works: 0 };
  const called = node("lamp-1-array", "on-call");
  expect(why({ dispatch }, [called])).toEqual({ code: "in-array", ...told });
  expect(why({ dispatch: { ...told, works: 1 } }, [called])).toBeNull();
  expect(why({ dispatch }, [called, node("a", "paused")])).toEqual({ code: "in-array", ...told });
  expect(why({ dispatch }, [called, node("a", "idle")])).toBeNull();
  expect(why({}, [called])).toEqual({ code: "no-node", wanted: null });
});

test("each node that may take part is named with what keeps it; those that ended only where there are no others", () => {
  const all = [node("a", "paused"), node("b", "off-hours"), node("c", "stopped"), node("d", "idle", [7])];
  expect(why({}, all)).toEqual({
    code: "nodes-rest",
    nodes: [
      { name: "a", rest: "paused" },
      { name: "b", rest: "off-hours" },
      { name: "d", rest: "set-aside" },
    ],
  });
  expect(why({ nodes: ["c"] }, all)).toEqual({
    code: "nodes-rest",
    nodes: [{ name: "c", rest: "stopped" }],
  });
});
