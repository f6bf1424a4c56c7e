import { codeOf, slugOf } from "./proposed-name";
import { projectFault, shotFault } from "./shot";

test("a title becomes a name for addresses", () => {
  expect(slugOf("Harbour Lights")).toBe("harbour-lights");
  expect(slugOf("  Été à Sète, 2ᵉ ")).toBe("ete-a-sete-2e");
  expect(slugOf("灯台")).toBe("");
});

test("a file's name becomes a code", () => {
  expect(codeOf("scenes/hl010.json")).toBe("HL010");
  expect(codeOf("C:\\scenes\\Lamp turn.v2.scn")).toBe("LAMP_TURN_V2");
  expect(codeOf(".json")).toBe("JSON");
});

test("what is proposed is never refused", () => {
  const rate = { numerator: 24, denominator: 1 };
  for (const text of ["a".repeat(300), "--x--", "a - b", "x_".repeat(60)]) {
    expect(projectFault({ slug: slugOf(text), title: "t", rate })).toBeNull();
    expect(
      shotFault({ code: codeOf(text), title: "t", firstFrame: 1, lastFrame: 2, markers: [] }),
    ).toBeNull();
  }
});
