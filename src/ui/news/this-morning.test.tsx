import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import type { NewsView } from "@/contract/news";
import { answering, renderPart } from "../../../tests/support/components";
import { ThisMorning } from "./this-morning";

const NEWS: NewsView = {
  since: "2026-11-29T20:00:00.000Z",
  until: "2026-11-30T07:00:00.000Z",
  shots: [
    {
      project: "harbour",
      projectTitle: "Harbour Lights",
      shot: "HL010",
      version: "v002",
      sentence: "46 of 48 good, 2 flagged.",
      made: ["48 frames (1-48) made"],
      mended: ["1 frame (7) failed or lost, and made again by itself"],
      eyes: ["2 frames (3-4) flagged by a check"],
      still: [],
      step: { step: "patch", frames: 2 },
    },
    {
      project: "quay",
      projectTitle: "The Quay",
      shot: "QU020",
      version: "v001",
      sentence: "All 10 good.",
      made: ["10 frames (1-10) made"],
      mended: [],
      eyes: [],
      still: ["Run 3 stands still: no node is at work"],
      step: { step: "hand-over" },
    },
  ],
  edits: [
    {
      project: "harbour",
      projectTitle: "Harbour Lights",
      made: ["edit_001.mp4 handed over"],
      eyes: [],
      still: [],
    },
  ],
  nodes: ["quay-2 is set aside"],
};

let giveBack: () => void;
beforeEach(() => localStorage.clear());
afterEach(() => giveBack());
const open = async (news: NewsView, project: string | null = null) => {
  giveBack = answering({ "/api/news": news });
  renderPart(<ThisMorning project={project} />);
  return within(await screen.findByTestId("news"));
};

test("each shot has its lines and its one next step, which leads to where that is done", async () => {
  const news = await open(NEWS);
  const [first, second, edit] = news.getAllByTestId("news-of-shot").map((line) => within(line));
  for (const text of [/46 of 48 good/, /48 frames .* made/, /made again by itself/, /flagged by a check/])
    expect(first!.getByText(text)).toBeTruthy();
  expect(first!.getByRole("link", { name: "Patch 2 frames" }).getAttribute("href")).toBe(
    "/p/harbour/shots/HL010?bench=patch",
  );
  expect(second!.getByText(/no node is at work/)).toBeTruthy();
  expect(second!.getByRole("link", { name: "Hand over" }).getAttribute("href")).toBe(
    "/p/quay/shots/QU020?bench=handover",
  );
  expect(edit!.getByText("edit_001.mp4 handed over")).toBeTruthy();
  expect(edit!.getByRole("link").getAttribute("href")).toBe("/p/harbour/hand-over");
  expect(news.getByText("quay-2 is set aside")).toBeTruthy();
});

test("a ledger tells of its own project, over all projects each is named", async () => {
  const news = await open(NEWS, "quay");
  expect(news.getAllByTestId("news-of-shot")).toHaveLength(1);
  expect(news.queryByText(/HL010/)).toBeNull();
});

test("what was seen is not told again", async () => {
  const news = await open(NEWS);
  const before = Date.now();
  giveBack();
  giveBack = answering({ "/api/news": { ...NEWS, shots: [], edits: [] } });
  fireEvent.click(news.getByRole("button", { name: "I have seen it" }));
  await waitFor(() => expect(screen.queryByTestId("news")).toBeNull());
  await waitFor(() => expect(global.fetch).toHaveBeenCalled());
  const [asked] = jest.mocked(global.fetch).mock.calls.at(-1)!;
  const since = new URL(String(asked), "http://x").searchParams.get("since")!;
  expect(new Date(since).getTime()).toBeGreaterThanOrEqual(before);
});
