import { checkStopRun } from "@/contract/bodies";
import { TallyError } from "../errors";
import { DatabaseAway } from "../db/away";
import { idOf, readBody, respond, whoOf } from "./respond";
import { WHO_HEADER } from "@/contract/who";

const answer = async (work: () => Promise<unknown>): Promise<readonly [number, unknown]> => {
  const response = await respond(work);
  return [response.status, await response.json()];
};
const failing = (error: unknown) => answer(() => Promise.reject(error as Error));

test("what a handler returns is JSON; nothing is ok", async () => {
  expect(await answer(() => Promise.resolve({ runId: 3 }))).toEqual([200, { runId: 3 }]);
  expect(await answer(() => Promise.resolve(undefined))).toEqual([200, { ok: true }]);
});

test.each([
  ["what is not there", new TallyError("shot-unknown", { shot: "X" }), 404],
  ["what somebody else changed", new TallyError("plan-outdated", { saved: 3, basedOn: 2 }), 409],
  [
    "what is wrong",
    new TallyError("plan-wrong", { message: "Mend it." }).with([
      { field: "width", code: "plan-width", message: "w" },
    ]),
    422,
  ],
])("%s has its status, code, sentence and fields", async (_name, error, status) => {
  expect(await failing(error)).toEqual([
    status,
    { error: { code: error.code, message: error.message, faults: error.faults } },
  ]);
});

test.each([false, true])("a database that is away, or busy (%p), is told as such", async (isBusy) => {
  const [status, body] = await failing(new DatabaseAway("no answer", isBusy));
  expect([status, body]).toEqual([503, { error: expect.objectContaining({ code: "database-away" }) }]);
});

test("a file that is not there is told as such, and not as a fault of the server or the database", async () => {
  const [status, body] = await failing(
    Object.assign(new Error("no such file /secret/place"), { code: "ENOENT", syscall: "open" }),
  );
  expect([status, body]).toEqual([422, { error: expect.objectContaining({ code: "file-enoent" }) }]);
  // Nothing of where it lies leaves the server.
  expect(JSON.stringify(body)).not.toContain("secret");
});

test("a body that is larger than any may be is refused before it is there", async () => {
  let sent = 0;
  const endless = new ReadableStream<Uint8Array>({
    pull: (to) => {
      sent++;
      to.enqueue(new Uint8Array(1 << 20).fill(32));
    },
  });
  const request = new Request("http://127.0.0.1/x", {
    method: "POST",
    body: endless,
    duplex: "half",
  } as RequestInit);
  await expect(readBody(request, checkStopRun)).rejects.toMatchObject({ code: "body-too-large" });
  expect(sent).toBeLessThan(100);
});

test("a body is read through its schema, or refused with its field", async () => {
  const request = (body: string): Request => new Request("http://127.0.0.1/x", { method: "POST", body });
  expect(await readBody(request('{"how":"now"}'), checkStopRun)).toEqual({ how: "now" });
  await expect(readBody(request('{"how":"soon"}'), checkStopRun)).rejects.toMatchObject({
    code: "body-wrong",
    faults: [{ field: "how" }],
  });
  await expect(readBody(request("{"), checkStopRun)).rejects.toMatchObject({ code: "body-broken" });
});

test.each([
  ["12", 12],
  ["-7", -7],
])("%p is the number %p", (text, id) => expect(idOf(text)).toBe(id));
test.each(["", "1.5", "abc", "12345678901", "1 "])("%p is no number", (text) =>
  expect(() => idOf(text)).toThrow("is not a number"),
);

describe("the name of who asks", () => {
  const asked = (header?: string): Request =>
    new Request("http://127.0.0.1/x", header === undefined ? {} : { headers: { [WHO_HEADER]: header } });
  test("is read from its header, in any letters; without one nobody said", () => {
    expect(whoOf(asked(encodeURIComponent("Máire Ó Flaithearta")))).toBe("Máire Ó Flaithearta");
    expect([whoOf(asked()), whoOf(asked(""))]).toEqual([null, null]);
  });
  test.each(["%zz", "a%0ab", "%20x", "x".repeat(81), "%2F"])("%p is refused and says why", (header) =>
    expect(() => whoOf(asked(header))).toThrow(/^The name of who does this /),
  );
});
