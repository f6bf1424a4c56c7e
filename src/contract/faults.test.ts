import { FAULTS, fileFaultCode, sayFault } from "./faults";

const all = Object.entries(FAULTS);

test("codes are words with hyphens, statuses and exit codes are such that exist", () => {
  expect(all.length).toBeGreaterThan(50);
  for (const [code, { status, exit }] of all) {
    expect(code).toMatch(/^[a-z]+(-[a-z]+)*$/);
    expect([401, 403, 404, 409, 413, 422, 429, 500, 503]).toContain(status);
    expect([1, 2, 3]).toContain(exit);
  }
});

test("sentences end, and carry their facts", () => {
  expect(sayFault("run-unknown")).toBe("This run does not exist.");
  expect(sayFault("shot-unknown", { shot: "XY" })).toBe("There is no shot XY.");
  expect(sayFault("version-retired", { retired: "v001", chosen: null })).toBe(
    "v001 is retired: open it again, or run another version.",
  );
});

test.each([
  ["ENOSPC", "file-enospc", "disk"],
  ["ESTALE", "file-estale", "place"],
  ["EISDIR", "file-eisdir", "renderer"],
  ["EWHATEVER", "file-other", "renderer"],
])("%s is %s, and lies in the %s", (errno, code, blame) => {
  expect(fileFaultCode(errno)).toBe(code);
  expect(FAULTS[fileFaultCode(errno)].blame).toBe(blame);
});
