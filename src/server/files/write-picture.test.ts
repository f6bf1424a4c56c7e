import { checkFile } from "@/core/image/check-file";
import { ALPHAS, DEFAULT_FILE, FILE_FACTS, FILE_KINDS } from "@/core/image/file-format";
import { readExr } from "@/core/image/exr";
import { imageTools } from "./image-tools";
import { shownPixels } from "./showable";
import { encodePicture, type PictureSettings } from "./write-picture";

/** Two by two: red, green, blue and grey light. */
const COLOURS = {
  width: 2,
  height: 2,
  channels: 3 as const,
  data: Float32Array.from([1, 0, 0, 0, 1, 0, 0, 0, 1, 0.5, 0.5, 0.5]),
};
const COVER = Float32Array.from([1, 1, 0.5, 1]);
const written = (settings: Partial<PictureSettings>, pass: "beauty" | "normal" | "albedo" = "beauty") =>
  encodePicture(
    COLOURS,
    COVER,
    pass,
    {
      file: DEFAULT_FILE.png,
      alpha: "none",
      channels: "grey",
      dither: false,
      pixelAspect: 1,
      ...settings,
    },
    {},
  );

test.each(FILE_KINDS)(
  "grey is one channel in %s, as light as the colours, and browsers show it",
  async (kind) => {
    for (const alpha of ALPHAS) {
      if (alpha !== "none" && !FILE_FACTS[kind].holdsAlpha) continue;
      const { bytes } = await written({ file: DEFAULT_FILE[kind], alpha });
      const name = `a.${kind === "jpeg" ? "jpg" : kind === "tiff" ? "tif" : kind}`;
      const verdict = checkFile(name, Buffer.from(bytes), imageTools);
      expect([verdict.verdict, verdict.channels]).toEqual(["good", alpha === "none" ? 1 : 2]);
      const { data } = await shownPixels(name, Buffer.from(bytes), "beauty");
      for (let p = 0; p < 4; p++) expect(new Set(data.subarray(p * 3, p * 3 + 3)).size).toBe(1);
      // Green is the lightest of them, blue the darkest, as eyes have it.
      if (kind !== "jpeg" && alpha === "none") {
        expect(data[3]!).toBeGreaterThan(data[0]!);
        expect(data[0]!).toBeGreaterThan(data[6]!);
      }
    }
  },
);

test("a linear file holds the luminance of the light, and its alpha behind it", async () => {
  const { bytes } = await written({ file: { ...DEFAULT_FILE.exr, depth: "float" }, alpha: "premultiplied" });
  const image = readExr(bytes, imageTools.inflate)!;
  expect(image.names).toEqual(["Y", "A"]);
  expect([...image.data].map((v) => Math.round(v * 1e4) / 1e4)).toEqual([
    0.2126, 1, 0.7152, 1, 0.0722, 0.5, 0.5, 1,
  ]);
});

test("what is no light and no colour keeps its three channels", async () => {
  const { bytes } = await written({ file: DEFAULT_FILE.exr }, "normal");
  expect(readExr(bytes, imageTools.inflate)!.names).toEqual(["R", "G", "B"]);
  const { bytes: albedo } = await written({ file: DEFAULT_FILE.exr }, "albedo");
  expect(readExr(albedo, imageTools.inflate)!.names).toEqual(["Y"]);
});
