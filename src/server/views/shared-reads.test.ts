import { SharedReads } from "./shared-reads";

/** Answers that come when they are told to; each is the number of its reading. */
function readings() {
  const open: { readonly answer: () => void; readonly fail: () => void }[] = [];
  let begun = 0;
  const reads = new SharedReads<string, number>(() => {
    const number = ++begun;
    return new Promise<number>((resolve, reject) =>
      open.push({ answer: () => resolve(number), fail: () => reject(new Error(`away ${number}`)) }),
    );
  });
  return { reads, open, begun: () => begun };
}

test("whoever asks while an answer is read gets the next one, together with the others", async () => {
  const { reads, open, begun } = readings();
  const first = reads.ask("a");
  const [second, third] = [reads.ask("a"), reads.ask("a")];
  expect(begun()).toBe(1);
  open[0]!.answer();
  expect(await first).toBe(1);
  expect(begun()).toBe(2);
  open[1]!.answer();
  expect(await Promise.all([second, third])).toEqual([2, 2]);
  void reads.ask("a");
  expect(begun()).toBe(3);
});

test("one that fails does not fail those that wait behind it, and other things are read beside it", async () => {
  const { reads, open, begun } = readings();
  const first = reads.ask("a");
  const second = reads.ask("a");
  void reads.ask("b");
  expect(begun()).toBe(2);
  open[0]!.fail();
  await expect(first).rejects.toThrow("away 1");
  await Promise.resolve();
  open[2]!.answer();
  expect(await second).toBe(3);
});
