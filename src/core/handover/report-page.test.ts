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
