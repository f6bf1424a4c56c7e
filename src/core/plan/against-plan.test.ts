import { type Asked, planFault } from "./against-plan";

const ASKED: Asked = {
  size: { width: 960, height: 540 },
  bits: 16,
  channels: 4,
  compressions: ["zip", "none"],
  isOfUsualColours: true,
  words: "the plan asks for",
};
const FITS = {
  width: 960,
  height: 540,
  bitDepth: 16,
  channels: 4,
  frame: 12,
  encoding: { compression: "zip", colours: null },
};

test.each([
  [{ frame: 13 }, "other-frame", "the file says that it is frame 13, its name that it is 12"],
  [{ width: 480 }, "other-size", "the picture is 480 x 540, the plan asks for 960 x 540"],
  [{ bitDepth: 8 }, "other-depth", "a channel has 8 bits, the plan asks for 16"],
  [{ channels: 3 }, "other-channels", "the picture has 3 channels, the plan asks for 4"],
  [
    { encoding: { compression: "piz", colours: null } },
    "other-compression",
    "the file is packed by piz, the plan asks for zip",
  ],
  [
    { encoding: { compression: null, colours: "an exponent of 1.000" } },
    "other-colours",
    "the file says that its colours have an exponent of 1.000, and the others do not",
  ],
  [{ frame: 13, width: 480 }, "other-frame", "the file says that it is frame 13, its name that it is 12"],
])("%o is not as asked: %s", (change, code, text) => {
  expect(planFault(12, { ...FITS, ...change }, ASKED)).toEqual({ code, text });
});

test.each([
  ["all as asked", {}],
  ["no word of which frame it is", { frame: null }],
  ["more bits than asked", { bitDepth: 32 }],
  ["a channel more", { channels: 5 }],
  [
    "packed as an earlier plan of the version asked for",
    { encoding: { compression: "none", colours: null } },
  ],
  ["what its format does not tell", { bitDepth: null, channels: null }],
])("%s is no fault", (_, change) => {
  expect(planFault(12, { ...FITS, ...change }, ASKED)).toBeNull();
});

test("where nobody has said what is asked, only the file's own word counts", () => {
  const nothing: Asked = {
    size: null,
    bits: null,
    channels: null,
    compressions: null,
    isOfUsualColours: false,
    words: "the others are",
  };
  expect(planFault(12, { ...FITS, width: 1, channels: 1 }, nothing)).toBeNull();
  expect(planFault(12, { ...FITS, frame: 1 }, nothing)?.code).toBe("other-frame");
});
