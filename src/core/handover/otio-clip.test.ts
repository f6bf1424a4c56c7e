import { readOtio } from "../edit/otio";
import { folderUrl, otioClip } from "./otio-clip";

const RATE = { numerator: 24000, denominator: 1001 };

test("reads back as one clip with the sequence's name and range", () => {
  const text = otioClip({
    ...{
      name: "HL010 v001",
      folderUrl: folderUrl("/mnt/it's 100 %/HL010"),
      prefix: "HL010.",
      suffix: ".exr",
    },
    ...{ digits: 4, first: 1001, last: 1048, step: 1, rate: RATE, about: { shot: "HL010" } },
  });
  const read = readOtio(text, RATE);
  expect(read.ok && read.edit.clips).toMatchObject([{ first: 1001, end: 1049, starts: 0 }]);
  const reference = JSON.parse(text).tracks.children[0].children[0].media_references.DEFAULT_MEDIA;
  expect(reference).toMatchObject({
    target_url_base: "file:///mnt/it's%20100%20%25/HL010/",
    name_prefix: "HL010.",
    start_frame: 1001,
    frame_zero_padding: 4,
  });
});

test("every second frame lasts two", () => {
  const text = otioClip({
    ...{ name: "a", folderUrl: "file:///a/", prefix: "a.", suffix: ".png" },
    ...{ digits: 4, first: 1, last: 9, step: 2, rate: RATE, about: {} },
  });
  const read = readOtio(text, RATE);
  expect(read.ok && read.edit.clips).toMatchObject([{ first: 1, end: 11 }]);
});
