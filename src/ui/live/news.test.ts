import { QueryClient, QueryObserver } from "@tanstack/react-query";
import type { SequenceView, VersionChange } from "@/contract/sequence-view";
import { EMPTY, rangeSet } from "@/core/frames/frame-set";
import { packSet, packTally } from "@/core/tally/packed";
import { deriveTally, NO_FACTS } from "@/core/tally/tally";
import type { ShotLine, ShotsView } from "@/contract/shot-view";
import { readLines } from "./lines-wanted";
import { withChangesHeard } from "./changes-heard";
import { News } from "./news";
import { queryKeys } from "./query-keys";
import { NO_FILES } from "../../../tests/support/no-files";

const framesOf = (id: number, first: number, last: number, waiting = EMPTY) => ({
  id,
  tally: packTally(deriveTally({ ...NO_FACTS, asked: rangeSet(first, last), waiting })),
  files: NO_FILES,
  nodes: {},
  saved: { frames: [], samples: [], share: [], seconds: [] },
  findings: [],
  closedFindings: [],
  check: null,
});
const sibling = (id: number) => ({
  ...framesOf(id, 1, 9),
  camera: "main",
  cameras: 1,
  pass: "beauty" as const,
});
const view = (id: number): SequenceView => ({
  ...framesOf(id, 1, 9),
  runs: [],
  leadId: 1,
  siblings: [sibling(1)],
  elsewhere: null,
});
/** Frames 3 and 4 of sequence 1 wait. */
const CHANGE: VersionChange = {
  frames: packSet(rangeSet(3, 4)),
  sequences: [framesOf(1, 3, 4, rangeSet(3, 4))],
  runs: [],
};
const WAITING = packSet(rangeSet(3, 4));

/** A page of a sequence; its answers come when they are told to. */
function page(client: QueryClient, id: number) {
  let asked = 0;
  let answer = (_view: SequenceView): void => undefined;
  const observer = new QueryObserver<SequenceView>(client, {
    queryKey: queryKeys.sequence(id),
    queryFn: () =>
      withChangesHeard(() => {
        asked++;
        return new Promise((resolve) => (answer = resolve));
      }),
    staleTime: Infinity,
    retry: false,
  });
  const close = observer.subscribe(() => undefined);
  return {
    close,
    asked: () => asked,
    answer: async () => {
      answer(view(id));
      await new Promise(setImmediate);
    },
    waiting: () => observer.getCurrentResult().data?.tally.activities.waiting,
  };
}

test("a change is taken in without a question", async () => {
  const client = new QueryClient();
  const shown = page(client, 1);
  await shown.answer();
  new News(client).take({ type: "frames", change: CHANGE });
  expect(shown.waiting()).toEqual(WAITING);
  expect(shown.asked()).toBe(1);
  shown.close();
});

test("an answer that was on its way when a change came holds it all the same", async () => {
  const client = new QueryClient();
  const shown = page(client, 1);
  new News(client).take({ type: "frames", change: CHANGE });
  await shown.answer();
  expect(shown.waiting()).toEqual(WAITING);
  shown.close();
});

test("what nobody looks at is asked anew by whoever looks next", async () => {
  const client = new QueryClient();
  const shown = page(client, 1);
  await shown.answer();
  shown.close();
  new News(client).take({ type: "frames", change: CHANGE });
  expect(client.getQueryState(queryKeys.sequence(1))!.isInvalidated).toBe(true);
});

test("a sequence that its plan asks for no more is asked for, since no change tells of it", async () => {
  const client = new QueryClient();
  const shown = page(client, 7);
  await shown.answer();
  new News(client).take({ type: "frames", change: CHANGE });
  await new Promise(setImmediate);
  expect(shown.asked()).toBe(2);
  await shown.answer();
  shown.close();
});

test("taking in a change does not mend an answer that was out of date before", async () => {
  const client = new QueryClient();
  const shown = page(client, 1);
  await shown.answer();
  await client.invalidateQueries({ queryKey: queryKeys.sequence(1), refetchType: "none" });
  new News(client).take({ type: "frames", change: CHANGE });
  await new Promise(setImmediate);
  expect(shown.asked()).toBe(2);
  await shown.answer();
  shown.close();
});

/** A ledger of two shots; it keeps what it is asked for. */
function ledger(client: QueryClient) {
  const asked: (readonly string[] | null)[] = [];
  const line = (code: string, ...sequences: number[]): ShotLine => ({
    ...{ code, sequences, title: "", first: 1, last: 9, version: 1, purpose: "final" },
    ...{
      camera: "main",
      cameras: 1,
      isWatched: false,
      pass: "beauty",
      sequenceId: sequences[0]!,
      run: null,
      poster: null,
      deed: null,
      nodes: [],
    },
    tally: packTally(deriveTally(NO_FACTS)),
  });
  const observer = new QueryObserver<ShotsView>(client, {
    queryKey: queryKeys.shotsOf("test-film"),
    queryFn: () =>
      readLines("test-film", client.getQueryData(queryKeys.shotsOf("test-film")), async (only) => {
        asked.push(only);
        return {
          project: { title: "Test Film", slug: "test-film", rate: { numerator: 24, denominator: 1 } },
          archived: [],
          rest: [],
          edit: null,
          shots: [line("A", 1, 2), line("B", 3)].filter((l) => only === null || only.includes(l.code)),
        };
      }),
    staleTime: Infinity,
    retry: false,
  });
  return { asked, close: observer.subscribe(() => undefined) };
}

test("a ledger asks for the lines of shots that changed, for none where none did, and for all after a plan", async () => {
  const client = new QueryClient();
  const { asked, close } = ledger(client);
  const settle = () => new Promise(setImmediate);
  await settle();
  // A news of its own each time: what it asked rests for a while.
  for (const sequences of [[9], [2], null]) {
    new News(client).take({ type: "changed", sequences });
    await settle();
  }
  new News(client).take({ type: "frames", change: CHANGE });
  await settle();
  expect(asked).toEqual([null, ["A"], null, ["A"]]);
  close();
});
