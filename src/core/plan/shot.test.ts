import { projectFault, shotFault } from "./shot";

const RATE = { numerator: 24, denominator: 1 };
const PROJECT = { slug: "harbour-lights", title: "Harbour Lights", rate: RATE };
const SHOT = { code: "HL010", title: "the lighthouse wakes", firstFrame: 1001, lastFrame: 1096, markers: [] };

test("a project and a shot as they should be", () => {
  expect([projectFault(PROJECT), shotFault(SHOT)]).toEqual([null, null]);
  expect(shotFault({ ...SHOT, firstFrame: 5, lastFrame: 5, code: "a_1-b" })).toBeNull();
});

test.each<[string, object, string]>([
  ["blank", { slug: "" }, "slug"],
  ["with capitals", { slug: "Harbour" }, "slug"],
  ["that leads elsewhere", { slug: "../x" }, "slug"],
  ["too long", { slug: "a".repeat(65) }, "slug"],
  ["without a title", { title: "  " }, "title"],
  ["at no rate", { rate: { numerator: 0, denominator: 1 } }, "rate"],
])("a project %s is refused at its field", (_what, change, field) =>
  expect(projectFault({ ...PROJECT, ...change })).toMatchObject({ field }),
);

test.each<[string, object, string]>([
  ["with a slash", { code: "a/b" }, "code"],
  ["that begins with a dot", { code: ".hidden" }, "code"],
  ["that runs backwards", { firstFrame: 9, lastFrame: 1 }, "lastFrame"],
  ["between frames", { firstFrame: 1.5 }, "lastFrame"],
  ["with a marker twice", { markers: [marker("a"), marker("a")] }, "markers"],
  ["with a marker of nothing", { markers: [{ ...marker("a"), end: 1 }] }, "markers"],
])("a shot %s is refused at its field", (_what, change, field) =>
  expect(shotFault({ ...SHOT, ...change })).toMatchObject({ field }),
);

function marker(name: string) {
  return { name, first: 1, end: 5 };
}
