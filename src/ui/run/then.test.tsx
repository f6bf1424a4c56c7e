import { act, fireEvent, screen } from "@testing-library/react";
import { useState } from "react";
import { checkStartRun } from "@/contract/bodies";
import { MOVIE_PRESETS, USUAL_MOVIE } from "@/core/handover/wish";
import { answering, renderPart, shotParts } from "../../../tests/support/components";
import { NOTHING_MORE, type Then, ThenLine, wishesAfter } from "./then";

const RUN = { phrase: "all", policy: "fill", scope: "version", nodes: null } as const;

function open(isAsking = false): () => Then {
  let now = NOTHING_MORE;
  function Kept() {
    const [then, setThen] = useState(now);
    now = then;
    return <ThenLine value={then} onChange={setThen} />;
  }
  renderPart(<Kept />, shotParts(), isAsking);
  return () => now;
}
const choose = (key: string): void =>
  void fireEvent.change(screen.getByLabelText("When all frames are good"), { target: { value: key } });

/** Toggles tell of themselves a moment later. */
const click = (label: string): Promise<void> =>
  act(async () => void fireEvent.click(screen.getByLabelText(label)));

test("nothing follows a run unless somebody says so, and nothing more is asked", () => {
  const then = open();
  expect(wishesAfter(then())).toEqual([]);
  expect(screen.queryByLabelText("tell me")).toBeNull();
  expect(screen.queryByLabelText("While frames are bad")).toBeNull();
});

test("a movie is checked deeply first and waits for patches, unless something else is said", async () => {
  const then = open();
  choose("phone");
  expect(wishesAfter(then())).toMatchObject([{ as: "movie", isDeep: true, gaps: "stop", tells: false }]);
  await click("deep check first");
  await click("a report, too");
  await click("tell me");
  fireEvent.change(screen.getByLabelText("While frames are bad"), { target: { value: "hold" } });
  expect(wishesAfter(then())).toMatchObject([
    { as: "movie", isDeep: false, gaps: "hold", tells: true, movie: { codec: "h264" } },
    { as: "report", gaps: "hold", tells: true },
  ]);
  choose("report");
  expect(wishesAfter(then())).toEqual([{ as: "report", gaps: "hold", tells: true }]);
});

test("what is sent for each of them is what the server takes", () => {
  const then = open();
  expect(MOVIE_PRESETS.length).toBeGreaterThan(0);
  for (const key of [...MOVIE_PRESETS, "report"]) {
    choose(key);
    expect(checkStartRun({ ...RUN, then: wishesAfter(then()) })).toMatchObject({ ok: true });
  }
});

test("presets of the house stand beside those that ship", async () => {
  const own = { id: 7, name: "for Ines", movie: { ...USUAL_MOVIE, percent: 25 } };
  const giveBack = answering({ "/api/movie-presets": [own] });
  const then = open(true);
  expect(await screen.findByText("a movie for Ines")).toBeTruthy();
  choose("own 7");
  expect(wishesAfter(then())).toMatchObject([{ as: "movie", movie: { percent: 25 } }]);
  giveBack();
});
