import { ChakraProvider } from "@chakra-ui/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { fireEvent, render, screen } from "@testing-library/react";
import type { ShotLine } from "@/contract/shot-view";
import { rangeSet } from "@/core/frames/frame-set";
import { packTally } from "@/core/tally/packed";
import { deriveTally, NO_FACTS } from "@/core/tally/tally";
import { queryKeys } from "../live/query-keys";
import { system } from "../theme/system";
import { LeftOver } from "./left-over";

const before = global.fetch;
afterEach(() => (global.fetch = before));

/** Four frames are asked for, and none is there. */
const line = (code: string, sequenceId: number): ShotLine => ({
  ...{
    code,
    title: code,
    first: 1,
    last: 4,
    version: 1,
    purpose: "final",
    camera: "main",
    cameras: 1,
    isWatched: false,
  },
  ...{ pass: "beauty", sequenceId, sequences: [sequenceId], nodes: [], run: null, poster: null, deed: null },
  tally: packTally(deriveTally({ ...NO_FACTS, asked: rangeSet(1, 4) })),
});
const project = { slug: "film", title: "Film", rate: { numerator: 24, denominator: 1 }, isArchived: false };

test("a shot is left out while it is still being looked at, and stays so when it has been", async () => {
  let found: (body: unknown) => void = () => undefined;
  const slow = new Promise<unknown>((resolve) => (found = resolve));
  const answers: readonly (readonly [RegExp, unknown])[] = [
    [/sequences\/1\/preflight/, { points: [] }],
    [/sequences\/2\/preflight/, slow],
    [/film\/shots/, { project, shots: [line("A", 1), line("B", 2)], rest: [], archived: [], edit: null }],
  ];
  global.fetch = jest.fn(async (url: string) => {
    const body = await answers.find(([pattern]) => pattern.test(String(url)))![1];
    return { ok: true, status: 200, json: () => Promise.resolve(body) };
  }) as never;
  const client = new QueryClient({ defaultOptions: { queries: { enabled: false } } });
  client.setQueryData(queryKeys.projects, { projects: [project], roots: [] });
  render(
    <ChakraProvider value={system}>
      <QueryClientProvider client={client}>
        <LeftOver onClose={jest.fn()} />
      </QueryClientProvider>
    </ChakraProvider>,
  );
  fireEvent.click(screen.getByRole("button", { name: "Look what is left" }));
  const withB = await screen.findByLabelText<HTMLInputElement>("With B of film");
  expect(withB.checked).toBe(true);
  fireEvent.click(withB);
  found({ points: [] });
  expect(await screen.findByRole("button", { name: "Start 1 run with 4 frames" })).toBeTruthy();
  expect(withB.checked).toBe(false);
});
