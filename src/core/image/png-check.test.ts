import zlib from "node:zlib";
import { checkFile, type CheckTools } from "./check-file";
import { checkPng } from "./png-check";
import { chunksOf, readTexts } from "./png-format";
import { rgb8 } from "./pixels";
import { writePng } from "./png-write";

const tools: CheckTools & { deflate: (b: Uint8Array) => Uint8Array } = {
  crc32: (bytes, value) => zlib.crc32(bytes, value),
  deflate: (bytes) => zlib.deflateSync(bytes),
  inflate: (bytes) => {
    try {
      return zlib.inflateSync(bytes);
    } catch {
      return null;
    }
  },
  inflatedLength: (parts) => {
    try {
      return zlib.inflateSync(Buffer.concat(parts), { finishFlush: zlib.constants.Z_SYNC_FLUSH }).length;
    } catch {
      return 0;
    }
  },
};

/** A picture with noise in it, so that its data does not shrink to nothing. */
function picture(width = 64, height = 48): Uint8Array {
  const data = new Uint8Array(width * height * 3);
  let state = 12345;
  for (let i = 0; i < data.length; i++)
    data[i] = (state = (Math.imul(state, 1103515245) + 12345) >>> 0) >>> 24;
  return writePng(rgb8(width, height, data), { Software: "test", Comment: "grey sea" }, tools);
}

const rebuilt = (chunks: { type: string; data: Uint8Array }[]): Uint8Array => {
  const parts = chunks.map(({ type, data }) => {
    const body = Buffer.concat([Buffer.from(type, "latin1"), data]);
    const out = Buffer.alloc(12 + data.length);
    out.writeUInt32BE(data.length, 0);
    body.copy(out, 4);
    out.writeUInt32BE(zlib.crc32(body), 8 + data.length);
    return out;
  });
  return Buffer.concat([Buffer.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10]), ...parts]);
};
const whole = picture();
const chunks = [...chunksOf(whole)];
const replace = (type: string, data: Uint8Array) =>
  rebuilt(chunks.map((c) => (c.type === type ? { type, data } : c)));
const header = (change: (data: Uint8Array) => void): Uint8Array => {
  const data = Uint8Array.from(chunks[0]!.data);
  change(data);
  return replace("IHDR", data);
};

test("a whole file is good and says what it is", () => {
  expect(checkPng(whole, tools, true)).toEqual({
    format: "png",
    verdict: "good",
    code: null,
    detail: null,
    width: 64,
    height: 48,
    bitDepth: 8,
    channels: 3,
    share: null,
    notes: [],
  });
});

test("what was written in text is read back", () => {
  expect(Object.fromEntries(readTexts(whole))).toEqual({ Software: "test", Comment: "grey sea" });
});

test("cut short at every length it is never good, and the share grows with what is there", () => {
  let last = -1;
  for (let length = 0; length < whole.length; length += 97) {
    const verdict = checkPng(whole.subarray(0, length), tools);
    expect([verdict.verdict, ["empty", "truncated"].includes(verdict.code!)]).toEqual(["damaged", true]);
    expect(verdict.share ?? 0).toBeGreaterThanOrEqual(Math.max(last, 0));
    last = verdict.share ?? 0;
  }
  expect(last).toBeGreaterThan(0.8);
});

test("one flipped bit anywhere is seen", () => {
  for (let at = 0; at < whole.length; at += 53) {
    const bent = Uint8Array.from(whole);
    bent[at]! ^= 0x10;
    expect(checkPng(bent, tools).verdict).toBe("damaged");
  }
});

test.each([
  ["nothing in it", new Uint8Array(0), "empty"],
  ["text", new TextEncoder().encode("once upon a time"), "not-an-image"],
  ["a size of nought", header((d) => d.fill(0, 0, 4)), "corrupt"],
  ["7 bits", header((d) => (d[8] = 7)), "corrupt"],
  ["colour type 5", header((d) => (d[9] = 5)), "corrupt"],
  ["interlace method 2", header((d) => (d[12] = 2)), "corrupt"],
  ["no picture", rebuilt(chunks.filter((c) => c.type !== "IDAT")), "corrupt"],
  ["two headers", rebuilt([chunks[0]!, ...chunks]), "corrupt"],
  ["no end", rebuilt(chunks.filter((c) => c.type !== "IEND")), "truncated"],
  [
    "a required chunk nobody knows",
    rebuilt([chunks[0]!, { type: "ABCD", data: new Uint8Array(3) }, ...chunks.slice(1)]),
    "corrupt",
  ],
  [
    "picture data in two places",
    rebuilt(
      chunks.flatMap((c) => (c.type === "IDAT" ? [c, { type: "tIME", data: new Uint8Array(7) }, c] : [c])),
    ),
    "corrupt",
  ],
  ["indexed colour without a palette", header((d) => (d[9] = 3)), "corrupt"],
])("a file with %s", (_name, bytes, code) =>
  expect(checkPng(bytes, tools)).toMatchObject({ verdict: "damaged", code }),
);

test("a well-formed file that holds too little picture passes the quick check and fails the deep one", () => {
  const bytes = replace("IDAT", zlib.deflateSync(Buffer.alloc(100)));
  expect(checkPng(bytes, tools).verdict).toBe("good");
  expect(checkPng(bytes, tools, true)).toMatchObject({ verdict: "damaged", code: "corrupt" });
});

test("what stands behind the end does the picture no harm and is told", () =>
  expect(checkPng(Buffer.concat([whole, Buffer.from("x")]), tools)).toMatchObject({
    verdict: "good",
    notes: ["a byte follows the end"],
  }));

test("formats without a check are not called good", () => {
  expect(checkFile("a.0001.xyz", Uint8Array.of(1, 2), tools)).toMatchObject({
    verdict: "unsupported",
    format: "xyz",
  });
  expect(checkFile("a.0001.exr", new Uint8Array(0), tools)).toMatchObject({
    verdict: "damaged",
    code: "empty",
  });
});
