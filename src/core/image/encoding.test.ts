import zlib from "node:zlib";
import { encodingOf } from "./encoding";
import { chunkBytes, PNG_SIGNATURE } from "./png-format";
import { joinBytes, latin1, viewOf } from "./bytes";

const chunk = (type: string, ...data: readonly number[]): Uint8Array =>
  chunkBytes(type, Uint8Array.from(data), (bytes, value) => zlib.crc32(bytes, value));
/** One grey pixel, with what is said of it before. */
const png = (...said: readonly Uint8Array[]): Uint8Array =>
  joinBytes([
    PNG_SIGNATURE,
    chunk("IHDR", 0, 0, 0, 1, 0, 0, 0, 1, 8, 0, 0, 0, 0),
    ...said,
    chunk("IDAT", ...zlib.deflateSync(Uint8Array.of(0, 0))),
    chunk("IEND"),
  ]);
const gamma = (value: number): Uint8Array => {
  const data = new Uint8Array(4);
  viewOf(data).setUint32(0, value);
  return chunk("gAMA", ...data);
};
const profile = (name: string): Uint8Array => chunk("iCCP", ...latin1(name), 0, 0, 120, 156);

test.each([
  ["nothing", png(), null],
  ["sRGB", png(chunk("sRGB", 0)), null],
  [
    "sRGB, with another exponent for programs that do not know it",
    png(gamma(100_000), chunk("sRGB", 0)),
    null,
  ],
  ["the exponent of sRGB", png(gamma(45_455)), null],
  ["linear light", png(gamma(100_000)), "an exponent of 1.000"],
  ["a profile", png(profile("Wide gamut")), "the profile “Wide gamut”"],
  ["a profile of sRGB", png(profile("sRGB IEC61966-2.1")), null],
  ["Rec. 2020", png(chunk("cICP", 9, 16, 0, 1)), "primaries 9 and curve 16 of H.273"],
])("a PNG that says of its colours: %s", (_, bytes, colours) => {
  expect(encodingOf("a.png", bytes)).toEqual({ compression: null, colours });
});

/** An OpenEXR header as far as it is read here: one channel, scan lines. */
function exr(compression: number, primaries: readonly number[] | null): Uint8Array {
  const attribute = (name: string, kind: string, value: Uint8Array): Uint8Array => {
    const size = new Uint8Array(4);
    viewOf(size).setInt32(0, value.length, true);
    return joinBytes([latin1(`${name}\0${kind}\0`), size, value]);
  };
  const numbers = new Uint8Array(32);
  primaries?.forEach((value, i) => viewOf(numbers).setFloat32(i * 4, value, true));
  return joinBytes([
    Uint8Array.of(0x76, 0x2f, 0x31, 0x01, 2, 0, 0, 0),
    attribute("compression", "compression", Uint8Array.of(compression)),
    ...(primaries === null ? [] : [attribute("chromaticities", "chromaticities", numbers)]),
    Uint8Array.of(0),
  ]);
}

test.each([
  [0, null, { compression: "none", colours: null }],
  [3, [0.64, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0.329], { compression: "zip", colours: null }],
  [
    4,
    [0.713, 0.293, 0.165, 0.83, 0.128, 0.044, 0.32168, 0.33767],
    { compression: "piz", colours: "red at 0.713, 0.293" },
  ],
  [77, null, { compression: null, colours: null }],
])("OpenEXR, code %p, primaries %p", (code, primaries, told) => {
  expect(encodingOf("a.exr", exr(code, primaries))).toEqual(told);
});

test("a file that ends in its header says nothing", () => {
  expect(encodingOf("a.exr", exr(3, null).subarray(0, 20))).toEqual({ compression: null, colours: null });
});
