import { RESULTS } from "../tally/tally";
import { type ReportFacts, reportPage } from "./report-page";

const facts: ReportFacts = {
  ...{ title: "HL010 v001", project: "Harbour <Lights>", folder: "/f", firstName: "a.0001.png", at: 0 },
  ...{
    asked: "1-3",
    askedCount: 3,
    sentence: "2 of 3 good, 1 flagged.",
    bytes: 2_500_000,
    duration: "0.125 s",
  },
  results: Object.fromEntries(
    RESULTS.map((r) => [r, r === "good" ? { frames: "1-2", count: 2 } : { frames: "", count: 0 }]),
  ) as ReportFacts["results"],
  settings: [["Samples", "64"]],
  makers: [{ node: "quay-1", frames: 2, madeSeconds: 90, lostSeconds: 3_720, failed: 1 }],
  findings: [
    { frame: 3, text: "<pop>", by: "Mara", state: "fixed", at: 0, closedBy: null, closedAt: 60_000 },
  ],
  redone: [],
  handovers: [],
  pictures: [],
};

test("says what it holds, who made it, what was found and what became of it, and no sign of a text is a tag", () => {
  const text = reportPage(facts);
  for (const part of [
    "Harbour &lt;Lights&gt;",
    "2: 1-2",
    "2.5 MB",
    "1 min 30 s",
    "1 h 2 min",
    "&lt;pop&gt;",
    "mended: 1970-01-01 00:01 UTC",
  ])
    expect(text).toContain(part);
  expect(text).not.toContain("What was handed over");
});

test("tells of nothing where nothing was found", () => {
  expect(reportPage({ ...facts, findings: [], makers: [] })).toContain("Nothing was found");
});

test("what was made again stands before and now, with why, by whom and when", () => {
  const text = reportPage({
    ...facts,
    redone: [
      {
        frame: 3,
        why: ["the lamp is <off>"],
        before: { node: "quay-2", samples: 16, at: 0 },
        now: { node: "quay-1", samples: 64, at: 60_000 },
        pictures: { before: "QUJD", now: null },
      },
      { frame: 4, why: [], before: { node: null, samples: null, at: null }, now: null, pictures: null },
    ],
  });
  for (const part of [
    "What was made again",
    "the lamp is &lt;off&gt;",
    "before: by quay-2, 16 samples, 1970-01-01 00:00 UTC",
    'src="data:image/jpeg;base64,QUJD" alt="Frame 3 before"',
    "cannot be shown",
    "now: by quay-1, 64 samples",
    "<b>4</b> rendered again",
    "now: no file",
  ])
    expect(text).toContain(part);
  expect(reportPage(facts)).not.toContain("What was made again");
});
