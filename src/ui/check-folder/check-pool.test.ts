import type { CheckAnswer, CheckRequest } from "@/contract/check-messages";
import { type FileVerdict, goodVerdict } from "@/core/image/verdict";
import { checkFiles } from "./check-pool";

const GOOD = goodVerdict("png", { width: 1, height: 1, bitDepth: 8, channels: 3 });

/** Does what it is told to when it gets a file of a name. */
class FakeWorker extends EventTarget {
  static started: FakeWorker[] = [];
  static startsDead = false;
  isOver = false;
  constructor() {
    super();
    FakeWorker.started.push(this);
    queueMicrotask(() => (FakeWorker.startsDead ? this.die() : this.say({ type: "ready" })));
  }
  say(data: CheckAnswer): void {
    if (!this.isOver) this.dispatchEvent(new MessageEvent("message", { data }));
  }
  die(): void {
    this.dispatchEvent(new Event("error", { cancelable: true }));
  }
  terminate(): void {
    this.isOver = true;
  }
  postMessage({ id, file }: CheckRequest): void {
    if (file.name === "waits") return;
    queueMicrotask(() =>
      file.name === "kills" ? this.die() : this.say({ type: "checked", id, verdict: GOOD }),
    );
  }
}
const before = { worker: global.Worker, navigator: global.navigator };
beforeEach(() => {
  FakeWorker.started = [];
  FakeWorker.startsDead = false;
  Object.defineProperty(global, "Worker", { value: FakeWorker, configurable: true, writable: true });
  Object.defineProperty(global, "navigator", { value: { hardwareConcurrency: 2 }, configurable: true });
});
afterAll(() => {
  Object.defineProperty(global, "Worker", { value: before.worker, configurable: true });
  Object.defineProperty(global, "navigator", { value: before.navigator, configurable: true });
});

const files = (...names: string[]): File[] => names.map((name) => new File(["x"], name));
async function verdictsOf(all: readonly File[]): Promise<ReadonlyMap<number, FileVerdict["verdict"]>> {
  const told = new Map<number, FileVerdict["verdict"]>();
  await checkFiles(all, (index, { verdict }) => told.set(index, verdict)).done;
  return told;
}

test("every file is judged once, by one worker more than there are processors", async () => {
  expect([...(await verdictsOf(files("a", "b", "c", "d", "e"))).keys()].sort()).toEqual([0, 1, 2, 3, 4]);
  expect(FakeWorker.started).toHaveLength(3);
  expect(FakeWorker.started.every((worker) => worker.isOver)).toBe(true);
  expect((await verdictsOf([])).size).toBe(0);
});

test("a worker that dies takes its file along, and another one goes on with the rest", async () => {
  const told = await verdictsOf(files("a", "kills", "c", "d"));
  expect([...told].sort()).toEqual([
    [0, "good"],
    [1, "damaged"],
    [2, "good"],
    [3, "good"],
  ]);
});

test("where no worker starts the check ends with a sentence", async () => {
  FakeWorker.startsDead = true;
  await expect(verdictsOf(files("a"))).rejects.toThrow("starts no worker");
});

test("a check that is stopped tells nothing any more", async () => {
  const told: number[] = [];
  const check = checkFiles(files("waits", "waits", "waits", "d"), (index) => told.push(index));
  await new Promise(setImmediate);
  check.stop();
  await check.done;
  FakeWorker.started[0]!.isOver = false;
  FakeWorker.started[0]!.say({ type: "checked", id: 0, verdict: GOOD });
  expect(told).toEqual([]);
});
