import { nodeFaults } from "./faults";

test("a file hidden for two frames is hidden for the first two frames that use it", () => {
  const faults = nodeFaults({ hide: ["tower.png:2", "sail.png"] });
  const seen = [
    ["tower.png"],
    ["buoy.png"],
    ["sail.png", "buoy.png"],
    ["tower.png", "sail.png"],
    ["tower.png"],
  ].map((files) => faults.hiddenAmong(files));
  expect(seen).toEqual([["tower.png"], [], ["sail.png"], ["tower.png", "sail.png"], []]);
});

test("without options nothing is hidden and nothing dies", async () => {
  const faults = nodeFaults({ hide: [] });
  faults.during(1, 1);
  await faults.after(1, new AbortController().signal);
  expect(faults.hiddenAmong(["tower.png"])).toEqual([]);
});
