/** Kinds of OpenEXR files that no program here writes, built by hand. */
import { joinBytes, latin1, viewOf } from "./bytes";
import { checkExr } from "./exr-check";

const int = (...values: readonly number[]): Uint8Array => {
  const out = new Uint8Array(values.length * 4);
  values.forEach((value, i) => viewOf(out).setInt32(i * 4, value, true));
  return out;
};
const long = (...values: readonly number[]): Uint8Array => {
  const out = new Uint8Array(values.length * 8);
  values.forEach((value, i) => viewOf(out).setBigUint64(i * 8, BigInt(value), true));
  return out;
};
const nul = (text: string): Uint8Array => latin1(`${text}\0`);
const attribute = (name: string, type: string, value: Uint8Array): Uint8Array =>
  joinBytes([nul(name), nul(type), int(value.length), value]);
/** Name, type (1 half, 2 float), one sample for so many pixels each way. */
type Channel = readonly [string, number, number?];
const channels = (...list: readonly Channel[]): Uint8Array =>
  attribute(
    "channels",
    "chlist",
    joinBytes([
      ...list.map(([name, type, every = 1]) => joinBytes([nul(name), int(type, 0, every, every)])),
      Uint8Array.of(0),
    ]),
  );
const window = (name: string, ...sides: readonly number[]): Uint8Array =>
  attribute(name, "box2i", int(...sides));

interface Built {
  readonly flags?: number;
  readonly attributes: readonly Uint8Array[];
  readonly blocks: readonly Uint8Array[];
}

/** A file of one part: what is written into a block stands there, and the offsets lead to it. */
function build({ flags = 0, attributes, blocks }: Built): Uint8Array {
  const header = joinBytes([int(20_000_630, 2 | flags), ...attributes, Uint8Array.of(0)]);
  let at = header.length + blocks.length * 8;
  const offsets = blocks.map((block) => (at += block.length) - block.length);
  return joinBytes([header, long(...offsets), ...blocks]);
}
const none = attribute("compression", "compression", Uint8Array.of(0));
const lines = (list: readonly (readonly [y: number, bytes: number])[]): Uint8Array[] =>
  list.map(([y, bytes]) => joinBytes([int(y, bytes), new Uint8Array(bytes).fill(7)]));
const judge = (bytes: Uint8Array) => checkExr(bytes, () => null);

test("colour differences of every second pixel and line are counted as they lie", () => {
  const built = (first: number): Uint8Array =>
    build({
      attributes: [
        channels(["BY", 1, 2], ["RY", 1, 2], ["Y", 1]),
        none,
        // Of columns -1 to 3 the even ones are 0 and 2; of lines -1 to 2, 0 and 2.
        window("dataWindow", -1, -1, 3, 2),
        window("displayWindow", -1, -1, 3, 2),
      ],
      blocks: lines([
        [-1, first],
        [0, 5 * 2 + 2 * 2 * 2],
        [1, 5 * 2],
        [2, 5 * 2 + 2 * 2 * 2],
      ]),
    });
  expect(judge(built(5 * 2))).toMatchObject({ verdict: "good", width: 5, height: 4, channels: 3 });
  expect(judge(built(5 * 2 + 2))).toMatchObject({
    verdict: "damaged",
    detail: expect.stringContaining("block 1 of 4 has a size that it cannot have"),
  });
});

test("the size is that of the picture that is shown; where the data is another one, both are told", () =>
  expect(
    judge(
      build({
        attributes: [
          channels(["G", 2]),
          none,
          window("dataWindow", -2, 1, 9, 2),
          window("displayWindow", 0, 0, 7, 3),
        ],
        blocks: lines([
          [1, 48],
          [2, 48],
        ]),
      }),
    ),
  ).toMatchObject({
    verdict: "good",
    width: 8,
    height: 4,
    notes: ["its data is 12 x 2 from -2, 1; it shows 8 x 4 from 0, 0"],
  }));

test("deep pixels are followed by the lengths of their two parts", () => {
  const block = (y: number, said: number): Uint8Array =>
    joinBytes([int(y), long(8, said, 40), new Uint8Array(8 + 20)]);
  const built = (said: number): Uint8Array =>
    build({
      flags: 0x800,
      attributes: [
        channels(["A", 1], ["Z", 2]),
        attribute("compression", "compression", Uint8Array.of(2)),
        attribute("type", "string", latin1("deepscanline")),
        window("dataWindow", 0, 0, 3, 1),
        window("displayWindow", 0, 0, 3, 1),
      ],
      blocks: [block(0, 20), block(1, said)],
    });
  expect(judge(built(20))).toMatchObject({ verdict: "good", notes: ["its pixels are deep"] });
  expect(judge(built(21))).toMatchObject({ verdict: "damaged", code: "truncated", share: 0.5 });
});

test("lines that their writer never came to have no place: so much of the picture is there", () => {
  const whole = build({
    attributes: [channels(["Y", 1]), none, window("dataWindow", 0, 0, 3, 3)],
    blocks: lines([
      [0, 8],
      [1, 8],
      [2, 8],
      [3, 8],
    ]),
  });
  expect(judge(whole)).toMatchObject({ verdict: "good", height: 4 });
  const half = Uint8Array.from(whole);
  half.fill(0, whole.length - 4 * 16 - 8, whole.length - 4 * 16);
  expect(judge(half)).toMatchObject({ verdict: "damaged", code: "truncated", share: 0.75 });
});

test.each([
  [
    "a compression that nobody knows",
    attribute("compression", "compression", Uint8Array.of(77)),
    "unsupported",
  ],
  ["no channels", new Uint8Array(0), "damaged"],
])("%s", (_what, more, verdict) =>
  expect(
    judge(
      build({
        attributes: [
          ...(verdict === "damaged" ? [none] : [channels(["Y", 1])]),
          more,
          window("dataWindow", 0, 0, 3, 0),
        ],
        blocks: lines([[0, 8]]),
      }),
    ).verdict,
  ).toBe(verdict),
);

test("blocks that lie over one another are refused before they are unpacked again and again", () => {
  const inside = int(1, 400);
  // The second block stands inside the first one, and claims as much as that.
  const first = joinBytes([int(0, 408), new Uint8Array(100), inside, new Uint8Array(300)]);
  const bytes = build({
    attributes: [
      channels(["Y", 1]),
      attribute("compression", "compression", Uint8Array.of(1)),
      window("dataWindow", 0, 0, 999, 1),
    ],
    blocks: [first, new Uint8Array(0)],
  });
  const at = bytes.length - first.length;
  viewOf(bytes).setBigUint64(at - 8, BigInt(at + 8 + 100), true);
  const longer = joinBytes([bytes, new Uint8Array(200)]);
  expect(judge(longer)).toMatchObject({ detail: "its blocks lie over one another" });
});
