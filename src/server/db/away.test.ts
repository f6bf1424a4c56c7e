import { DatabaseAway, isDatabaseAway, toldByDatabase } from "./away";

const failed = (facts: object): Error => Object.assign(new Error("said so"), facts);

test.each([
  ["a refused connection", { code: "ECONNREFUSED" }],
  ["a socket that is not there", { code: "ENOENT", syscall: "connect" }],
  ["a connection that was killed", { code: "ER_CONNECTION_KILLED", errno: 1927 }],
  ["whatever ends a connection", { code: "SOMETHING", fatal: true }],
])("%s is a database that is away", (_what, facts) => {
  const told = toldByDatabase(failed(facts));
  expect(isDatabaseAway(told)).toBe(true);
  expect(told).toMatchObject({ message: "said so", isBusy: false });
});

test.each([1205, 1213])(
  "lock wait and deadlock (%d) are busy: the same may go through when it is run again",
  (errno) => {
    expect(toldByDatabase(failed({ errno, code: "ER_X" }))).toMatchObject({
      name: "DatabaseAway",
      isBusy: true,
    });
  },
);

test("a wrong statement stays the error that it is", () => {
  const wrong = failed({ code: "ER_PARSE_ERROR", errno: 1064 });
  expect(toldByDatabase(wrong)).toBe(wrong);
});

test("what was told once is not told again", () => {
  const away = new DatabaseAway("gone");
  expect(toldByDatabase(away)).toBe(away);
});

test.each(["ETIMEDOUT", "EPIPE", "ECONNRESET", "ENOENT"])(
  "a share that fails with %s is no database",
  (code) => {
    expect(isDatabaseAway(failed({ code, syscall: "write" }))).toBe(false);
  },
);
