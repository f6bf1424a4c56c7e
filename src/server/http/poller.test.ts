import { Poller } from "./poller";

beforeEach(() => void jest.useFakeTimers());
afterEach(() => void jest.useRealTimers());

/** Work that ends when it is told to, and counts how much of it goes on. */
function work() {
  const ends: (() => void)[] = [];
  const seen = { begun: 0, atOnce: 0, most: 0 };
  return {
    seen,
    end: async (): Promise<void> => {
      ends.shift()?.();
      await jest.advanceTimersByTimeAsync(0);
    },
    do: async (): Promise<void> => {
      seen.begun++;
      seen.most = Math.max(seen.most, ++seen.atOnce);
      await new Promise<void>((resolve) => ends.push(resolve));
      seen.atOnce--;
    },
  };
}

test("it works, rests, and works again, until it is stopped", async () => {
  const { seen, end, do: doing } = work();
  const poller = new Poller(doing, 500);
  poller.start();
  await jest.advanceTimersByTimeAsync(0);
  await end();
  expect(seen.begun).toBe(1);
  await jest.advanceTimersByTimeAsync(500);
  expect(seen.begun).toBe(2);
  poller.stop();
  await end();
  await jest.advanceTimersByTimeAsync(5_000);
  expect(seen.begun).toBe(2);
});

test("stopped and started again while it is at work, it is never at work twice", async () => {
  const { seen, end, do: doing } = work();
  const poller = new Poller(doing, 500);
  poller.start();
  await jest.advanceTimersByTimeAsync(0);
  for (let i = 0; i < 3; i++) {
    poller.stop();
    poller.start();
    poller.start();
    await jest.advanceTimersByTimeAsync(100);
  }
  await end();
  for (let i = 0; i < 5; i++) {
    await jest.advanceTimersByTimeAsync(500);
    await end();
  }
  expect(seen.most).toBe(1);
  expect(seen.begun).toBe(6);
});
