import { inSlices } from "./in-slices";

/** Works for so long, and yields after each millisecond. */
function* work(ms: number): Generator<undefined, string> {
  for (let done = 0; done < ms; done++) {
    for (const from = performance.now(); performance.now() - from < 1;);
    yield;
  }
  return "all of it";
}

test("others have their turn while it works, and its answer is that of the whole", async () => {
  let turns = 0;
  let isOver = false;
  const count = (): void => {
    turns++;
    if (!isOver) setImmediate(count);
  };
  setImmediate(count);
  await expect(inSlices(work(60))).resolves.toBe("all of it");
  isOver = true;
  expect(turns).toBeGreaterThan(1);
});

test("what it fails with is heard", async () => {
  function* failing(): Generator<undefined, never> {
    yield;
    throw new Error("no picture");
  }
  await expect(inSlices(failing())).rejects.toThrow("no picture");
});
