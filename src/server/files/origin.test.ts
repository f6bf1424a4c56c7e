import { crc32 } from "node:zlib";
import sharp from "sharp";
import { addTexts } from "@/core/image/add-texts";
import { FILE_TEXT, NO_ORIGIN, originOf } from "./origin";

const says = async (value: unknown): Promise<ReturnType<typeof originOf>> => {
  const png = await sharp({ create: { width: 2, height: 2, channels: 3, background: "red" } })
    .png()
    .toBuffer();
  return originOf(addTexts(png, { [FILE_TEXT]: JSON.stringify(value) }, crc32));
};
const NOTHING = NO_ORIGIN;
const PRINT = "0a".repeat(32);

test("a file says who made it", async () => {
  const said = { look: PRINT, effort: PRINT, samples: 12, attempt: 7, node: "quay-1", frame: 31 };
  expect(await says(said)).toEqual(said);
});

test.each([
  ["numbers that no column holds", { samples: 1e300, attempt: 1e300, frame: 1e300 }],
  ["numbers below nothing", { samples: -1, attempt: -1, frame: -1 }],
  ["parts of numbers", { samples: 0.5, attempt: "7", frame: "31" }],
  ["names that are none", { node: "n".repeat(70), look: "x".repeat(500), effort: PRINT.toUpperCase() }],
  ["no object", null],
])("%s: what whoever wrote the file put there is not believed", async (_what, said) => {
  expect(await says(said)).toEqual(NOTHING);
});
