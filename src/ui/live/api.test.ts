import { ApiFailure, get, post, remove } from "./api";

const failure = (asked: Promise<unknown>): Promise<ApiFailure> =>
  asked.then(
    () => {
      throw new Error("It was answered.");
    },
    (error: unknown) => error as ApiFailure,
  );
const answer = (status: number, body: unknown): void => {
  global.fetch = jest.fn(() => Promise.resolve(Response.json(body, { status })));
};
const before = global.fetch;
beforeAll(() => {
  // All of the browser's page that a call looks at.
  Object.assign(global, { document: { documentElement: { dataset: { account: "Máire" } } } });
});
afterEach(() => (global.fetch = before));

test("what is done bears the name of who does it, and what is only read does not", async () => {
  answer(200, {});
  await post("/api/pause", { pause: "now" });
  await get("/api/nodes");
  const headers = jest.mocked(global.fetch).mock.calls.map(([, init]) => init?.headers);
  expect(headers).toEqual([{ "x-plain-tally-who": "M%C3%A1ire", "content-type": "application/json" }, {}]);
});

test("what is shown goes on by itself when the server is back; what was to be done does not, and says so", async () => {
  global.fetch = jest.fn(() => Promise.reject(new TypeError("Failed to fetch")));
  expect((await failure(get("/api/nodes"))).message).toContain("goes on by itself");
  for (const asked of [post("/api/pause", {}), remove("/api/presets/1")]) {
    const { code, message } = await failure(asked);
    expect(code).toBe("server-away");
    expect(message).toContain("do it again");
    expect(message).not.toContain("by itself");
  }
});

test("the same where it is the database that does not answer", async () => {
  const away = { code: "database-away", message: "… this page goes on by itself …", faults: [] };
  answer(503, { error: away });
  expect((await failure(get("/api/nodes"))).message).toContain("by itself");
  answer(503, { error: away });
  expect((await failure(post("/api/pause"))).message).toContain("do it again");
});

test("any other refusal is told in its own words", async () => {
  answer(409, {
    error: { code: "plan-outdated", message: "Somebody saved revision 4 meanwhile.", faults: [] },
  });
  expect(await failure(post("/api/x"))).toMatchObject({
    code: "plan-outdated",
    message: "Somebody saved revision 4 meanwhile.",
  });
});
