import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { Refresher } from "./refresher";

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

/** A question whose answers come when they are told to. */
function question(client: QueryClient, key: string) {
  const open: (() => void)[] = [];
  let asked = 0;
  const observer = new QueryObserver(client, {
    queryKey: [key],
    queryFn: () => {
      asked++;
      return new Promise<number>((resolve) => open.push(() => resolve(asked)));
    },
    staleTime: Infinity,
  });
  const close = observer.subscribe(() => undefined);
  return {
    asked: () => asked,
    close,
    answer: async () => {
      open.shift()!();
      await jest.advanceTimersByTimeAsync(0);
    },
  };
}

test("a question that is open is not asked again; what changed meanwhile is asked for once, after a rest", async () => {
  const client = new QueryClient();
  let now = 0;
  const refresher = new Refresher(client, () => now);
  const tally = question(client, "tally");
  await tally.answer();
  expect(tally.asked()).toBe(1);
  for (let i = 0; i < 50; i++) refresher.refresh({ queryKey: ["tally"] });
  expect(tally.asked()).toBe(2);
  now = 1_000;
  await tally.answer();
  // It took a second: it rests for two.
  await jest.advanceTimersByTimeAsync(1_900);
  expect(tally.asked()).toBe(2);
  await jest.advanceTimersByTimeAsync(200);
  expect(tally.asked()).toBe(3);
  await tally.answer();
  await jest.advanceTimersByTimeAsync(60_000);
  expect(tally.asked()).toBe(3);
  tally.close();
});

test("what nobody looks at is marked, and not asked for", async () => {
  const client = new QueryClient();
  const refresher = new Refresher(client);
  const tally = question(client, "tally");
  await tally.answer();
  tally.close();
  refresher.refresh({ queryKey: ["tally"] });
  await jest.advanceTimersByTimeAsync(60_000);
  expect(tally.asked()).toBe(1);
  expect(client.getQueryState(["tally"])!.isInvalidated).toBe(true);
});

test("a question that fails is asked again by the next change", async () => {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const refresher = new Refresher(client);
  let asked = 0;
  const observer = new QueryObserver(client, {
    queryKey: ["x"],
    queryFn: () => Promise.reject(new Error(`away ${++asked}`)),
  });
  const close = observer.subscribe(() => undefined);
  await jest.advanceTimersByTimeAsync(1_000);
  refresher.refresh({ queryKey: ["x"] });
  await jest.advanceTimersByTimeAsync(1_000);
  refresher.refresh({ queryKey: ["x"] });
  await jest.advanceTimersByTimeAsync(1_000);
  expect(asked).toBe(3);
  close();
});
