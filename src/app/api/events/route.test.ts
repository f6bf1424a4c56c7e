import type { LiveMessage } from "@/contract/live";
import { GET } from "./route";

let listener: ((message: LiveMessage) => void) | null = null;
const unsubscribe = jest.fn();
jest.mock("@/server/http/live", () => ({
  live: () => ({
    subscribe: (heard: (message: LiveMessage) => void) => {
      listener = heard;
      return unsubscribe;
    },
  }),
}));

const stop = new AbortController();
const open = (): Response => GET(new Request("http://127.0.0.1/api/events", { signal: stop.signal }));
/** Some hundred kilobytes of news. */
const NEWS: LiveMessage = { type: "trouble", message: "x".repeat(300_000) };

beforeEach(() => unsubscribe.mockClear());
afterAll(() => stop.abort());

test("a listener that does not read is let go at a bound, and its stream ends: it asks for everything when it comes back", async () => {
  const answer = open();
  let told = 0;
  for (; unsubscribe.mock.calls.length === 0 && told < 1_000; told++) listener!(NEWS);
  expect(told * NEWS.message.length).toBeLessThan(6_000_000);
  expect(unsubscribe).toHaveBeenCalledTimes(1);
  // What was kept for it is still read, and then nothing more.
  const reader = answer.body!.getReader();
  let bytes = 0;
  for (let part = await reader.read(); !part.done; part = await reader.read()) bytes += part.value.length;
  expect(bytes).toBeGreaterThan(told * NEWS.message.length);
});

test("one that reads hears all of it, however much that is", async () => {
  const reader = open().body!.getReader();
  await reader.read();
  for (let i = 0; i < 40; i++) {
    listener!(NEWS);
    expect((await reader.read()).value!.length).toBeGreaterThan(NEWS.message.length);
  }
  expect(unsubscribe).not.toHaveBeenCalled();
  await reader.cancel();
});
