import { decideVersion, type StatusOfVersion, VERSION_STATUSES, type VersionStatus } from "./version-status";

const versions = (...statuses: readonly VersionStatus[]): StatusOfVersion[] =>
  statuses.map((status, i) => ({ id: i + 1, purpose: "final", status }));

test("one is chosen, every other look of its purpose is retired", () => {
  const looks: StatusOfVersion[] = [
    ...versions("open", "open", "open"),
    { id: 9, purpose: "rough", status: "open" },
  ];
  expect([...decideVersion(looks, 2, "choose")]).toEqual([
    [1, "retired"],
    [2, "chosen"],
    [3, "retired"],
  ]);
});

test("choosing another one retires the one that was chosen before", () =>
  expect([...decideVersion(versions("chosen", "retired"), 2, "choose")]).toEqual([
    [1, "retired"],
    [2, "chosen"],
  ]));

test("opened again, alone: the others stay as they are", () =>
  expect([...decideVersion(versions("chosen", "retired", "retired"), 3, "open")]).toEqual([[3, "open"]]));

test("whatever the states are, after a choice exactly one is chosen and none is open", () => {
  for (const a of VERSION_STATUSES)
    for (const b of VERSION_STATUSES)
      for (const c of VERSION_STATUSES) {
        const before = versions(a, b, c);
        const changes = decideVersion(before, 2, "choose");
        expect(before.map((v) => changes.get(v.id) ?? v.status)).toEqual(["retired", "chosen", "retired"]);
      }
});
