import { copyName, numberInName } from "./copy-names";

test.each([
  ["HL010_v001.1001.png", 1001, "HL010_v001.", 4, ".png"],
  ["a.0001.0001.exr", 1, "a.0001.", 4, ".exr"],
  ["turn-0005.png", -5, "turn", 4, ".png"],
  ["0007.png", 7, "", 4, ".png"],
])("%s is taken apart at %i", (name, frame, prefix, digits, suffix) => {
  expect(numberInName(name, frame)).toEqual({ prefix, digits, suffix });
});

test("a name without the number cannot be taken apart", () => {
  expect(numberInName("a.0002.png", 3)).toBeNull();
  expect(numberInName("a.0005.png", -5)).toBeNull();
});

const same = { format: "same", from: null, digits: null, name: "" } as const;

test("numbers stay, or count from any number; digits, name and ending change", () => {
  expect(copyName(same, "HL010.1001.exr", 1001, 1001, 0)).toBe("HL010.1001.exr");
  expect(copyName({ ...same, from: 1, digits: 3 }, "HL010.1005.exr", 1005, 1005, 2)).toBe("HL010.003.exr");
  expect(copyName({ ...same, name: "quay", format: "png8" }, "HL010.1001.exr", 1001, 1001, 0)).toBe(
    "quay.1001.png",
  );
  expect(copyName({ ...same, from: -2, format: "jpeg" }, "a.0001.tif", 1, 1, 0)).toBe("a.-0002.jpg");
});

test("a held frame's copy bears the number that it stands for", () => {
  expect(copyName(same, "HL010.1004.png", 1004, 1005, 1)).toBe("HL010.1005.png");
});
