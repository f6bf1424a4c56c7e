import { Waking } from "./waking";

const never = new AbortController().signal;
const LONG_MS = 3_600_000;

test("who rests is woken by what happens, and by the end", async () => {
  const waking = new Waking();
  const resting = [waking.after(waking.count, LONG_MS, never), waking.after(waking.count, LONG_MS, never)];
  waking.wake();
  await Promise.all(resting);
  const end = new AbortController();
  const last = waking.after(waking.count, LONG_MS, end.signal);
  end.abort();
  await last;
  await waking.after(waking.count, LONG_MS, end.signal);
});

test("what happens between the look and the rest is not slept through", async () => {
  const waking = new Waking();
  const before = waking.count;
  waking.wake();
  await waking.after(before, LONG_MS, never);
});

test("nothing happens: after the while it looks by itself", async () => {
  const waking = new Waking();
  await waking.after(waking.count, 1, never);
  expect(waking.count).toBe(0);
});
