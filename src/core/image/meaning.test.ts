import { checkFile } from "./check-file";
import { meaningOf } from "./meaning";
import { writeExr } from "./exr";
import { writePng } from "./png-write";
import { writeTiff } from "./tiff-write";
import { imageTools } from "@/server/files/image-tools";

const integer = (channels: 3 | 4) => ({
  width: 2,
  height: 2,
  channels,
  depth: 8 as const,
  data: new Uint8Array(4 * channels),
});
const told = (name: string, bytes: Uint8Array): unknown => {
  const { alpha, isLinear, rate } = meaningOf(bytes, checkFile(name, bytes, imageTools));
  return [alpha.value, isLinear.value, rate?.value ?? null];
};

test("alpha and light are proposed by what a file says, else by what its format usually has", () => {
  const deflate = imageTools.deflate;
  expect(told("a.png", writePng(integer(3), {}, imageTools))).toEqual(["none", false, null]);
  expect(told("a.png", writePng(integer(4), {}, imageTools))).toEqual(["straight", false, null]);
  for (const alpha of ["straight", "premultiplied"] as const)
    expect(told("a.tif", writeTiff(integer(4), {}, deflate, { compression: "none", alpha }))).toEqual([
      alpha,
      false,
      null,
    ]);
  const float = { width: 2, height: 2, channels: 4 as const, data: new Float32Array(16) };
  const exr = writeExr(float, {}, deflate, {
    depth: "half",
    compression: "zip",
    names: ["R", "G", "B", "A"],
    pixelAspect: 1,
  });
  expect(told("a.exr", exr)).toEqual(["premultiplied", true, null]);
});

test("a rate that the files say is told as the fraction that it means", () => {
  const dpx = new Uint8Array(2048);
  const view = new DataView(dpx.buffer);
  dpx.set([0x53, 0x44, 0x50, 0x58]);
  for (const [at, value, expected] of [
    [1_724, 24, { numerator: 24, denominator: 1 }],
    [1_940, 23.976, { numerator: 24_000, denominator: 1_001 }],
  ] as const) {
    view.setFloat32(1_724, 0);
    view.setFloat32(at, value);
    expect(meaningOf(dpx, checkFile("a.dpx", dpx, imageTools)).rate?.value).toEqual(expected);
  }
});
