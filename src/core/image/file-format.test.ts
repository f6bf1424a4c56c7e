import { DEFAULT_FILE, FILE_KINDS, fileFault, fileText, guessBytes } from "./file-format";

const PIXELS = 1920 * 1080;
test("guessed sizes are of the order of real ones: an 8-bit colour PNG of a grainy HD frame is about half its plain bytes", () => {
  expect(guessBytes(DEFAULT_FILE.png, PIXELS, 3) / (PIXELS * 3)).toBeCloseTo(0.48, 2);
  expect(guessBytes({ kind: "exr", depth: "float", compression: "none" }, PIXELS, 4) / PIXELS).toBeCloseTo(
    16,
    2,
  );
});
test("more quality, depth or channels never guess less", () => {
  const jpeg = Array.from({ length: 100 }, (_, i) => guessBytes({ kind: "jpeg", quality: i + 1 }, PIXELS, 3));
  expect(jpeg.every((bytes, i) => i === 0 || bytes >= jpeg[i - 1]!)).toBe(true);
  for (const kind of FILE_KINDS)
    expect(guessBytes(DEFAULT_FILE[kind], PIXELS, 4)).toBeGreaterThan(
      guessBytes(DEFAULT_FILE[kind], PIXELS, 1),
    );
});
test.each([
  [{ kind: "png", depth: 8, level: 10 }, "PNG's compression"],
  [{ kind: "jpeg", quality: 0 }, "JPEG's quality"],
  [{ kind: "jpeg", quality: NaN }, "JPEG's quality"],
] as const)("%p is told", (file, text) => expect(fileFault(file)).toContain(text));
test("formats in words", () =>
  expect(FILE_KINDS.map((kind) => fileText(DEFAULT_FILE[kind]))).toEqual([
    "PNG, 8 bits",
    "TIFF, 16 bits, deflated",
    "OpenEXR, half, ZIP",
    "JPEG, quality 90",
  ]));
