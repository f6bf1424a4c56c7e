import type { FloatImage } from "@/core/image/pixels";
import { DEFAULT_FILE, FILE_KINDS } from "@/core/image/file-format";
import { encodePicture } from "./write-picture";
import { shownPixels, showable } from "./showable";

const SIDE = 40;
/** Noise, so that it does not pack into a few bytes. */
const PICTURE: FloatImage = {
  width: SIDE,
  height: SIDE,
  channels: 3,
  data: Float32Array.from({ length: SIDE * SIDE * 3 }, (_, i) => ((i * 2654435761) % 1000) / 1000),
};
/** Where a file may be cut: its first byte, its header, its middle, its last byte. */
const CUTS = [0, 1, 4, 20, 100, 0.3, 0.6, 0.99] as const;
const SEED = 20_261_128;

const fileOf = async (kind: (typeof FILE_KINDS)[number]): Promise<Buffer> =>
  Buffer.from(
    (
      await encodePicture(
        PICTURE,
        null,
        "beauty",
        { file: DEFAULT_FILE[kind], alpha: "none", channels: "colour", dither: false, pixelAspect: 1 },
        {},
      )
    ).bytes,
  );

describe.each(FILE_KINDS)("%s", (kind) => {
  const name = `A.0001.${{ png: "png", tiff: "tif", exr: "exr", jpeg: "jpg" }[kind]}`;

  test("a whole file is shown, and measured", async () => {
    const bytes = await fileOf(kind);
    expect((await showable(name, bytes, "beauty")).bytes.length).toBeGreaterThan(100);
    expect(await shownPixels(name, bytes, "beauty")).toMatchObject({ width: SIDE, height: SIDE });
  });

  test("one that is cut anywhere says what is wrong with it, to the eye and to the measures", async () => {
    const bytes = await fileOf(kind);
    for (const cut of CUTS) {
      const part = bytes.subarray(0, cut < 1 ? Math.floor(bytes.length * cut) : cut);
      for (const ask of [showable, shownPixels])
        await expect(ask(name, part, "beauty")).rejects.toMatchObject({
          code: "picture-unreadable",
          message: expect.stringMatching(/^A\.0001\.\w+ cannot be shown: .+\.$/) as string,
        });
    }
  });

  test("one with bytes turned over is shown or told, and never a fault of the server", async () => {
    const whole = await fileOf(kind);
    let state = SEED;
    const next = (below: number): number => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) % below;
    for (let round = 0; round < 60; round++) {
      const bytes = Buffer.from(whole);
      for (let n = 0; n <= next(4); n++) bytes[next(bytes.length)]! ^= 1 << next(8);
      const code = await shownPixels(name, bytes, "beauty").then(
        () => "shown",
        (error: { code?: string }) => error.code,
      );
      expect([round, ["shown", "picture-unreadable"].includes(String(code)), code]).toEqual([
        round,
        true,
        code,
      ]);
    }
  });
});
