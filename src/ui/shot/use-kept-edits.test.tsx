import { act, renderHook } from "@testing-library/react";
import { PLAN } from "../../../tests/support/plan";
import { soundEdits, useKeptEdits } from "./use-kept-edits";

const NAME = { project: "test-film", code: "SH010" };
const open = () => renderHook(({ name }) => useKeptEdits(name), { initialProps: { name: NAME } });
beforeEach(() => localStorage.clear());

test("edits are there again after a reload, for their shot and version alone", () => {
  const page = open();
  act(() => page.result.current[1](() => ({ 4: { edits: { samples: 9 }, basedOn: 2 } })));
  page.unmount();
  const again = open();
  expect(again.result.current[0]).toEqual({ 4: { edits: { samples: 9 }, basedOn: 2 } });
  again.rerender({ name: { ...NAME, code: "SH020" } });
  expect(again.result.current[0]).toEqual({});
  again.rerender({ name: NAME });
  expect(again.result.current[0]).toEqual({ 4: { edits: { samples: 9 }, basedOn: 2 } });
});

test("what was saved or dropped leaves nothing behind", () => {
  const page = open();
  act(() => page.result.current[1](() => ({ 4: { edits: { samples: 9 }, basedOn: 2 } })));
  act(() => page.result.current[1](() => ({})));
  expect(localStorage.length).toBe(0);
});

test.each(["no JSON", "[]", '{"4":{"edits":7,"basedOn":1},"5":{"edits":{},"basedOn":"x"}}'])(
  "a store that holds %s is as good as an empty one",
  (text) => {
    localStorage.setItem("plain-tally-edits/test-film/SH010", text);
    expect(open().result.current[0]).toEqual({});
  },
);

test("settings that a plan does not have, or of another kind, are left out", () => {
  const edits = { samples: "many", frames: "1-5", gone: 1, shutter: 0.25, timeLimit: 3 } as never;
  expect(soundEdits(PLAN, edits)).toEqual({ frames: "1-5", shutter: 0.25, timeLimit: 3 });
});
