/** A part of the shot page by itself, with the shot that it works on and no server. */
import { STAND_IN_OFFER } from "@/core/plan/renderer-offer";
import { ChakraProvider } from "@chakra-ui/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render, type RenderResult } from "@testing-library/react";
import type { ReactElement } from "react";
import type { ShotView } from "@/contract/shot-view";
import { EMPTY, rangeSet, setOf } from "@/core/frames/frame-set";
import { phraseNames } from "@/core/tally/names";
import { packTally } from "@/core/tally/packed";
import { countsOf, deriveTally, NO_FACTS } from "@/core/tally/tally";
import { FilesByFrame } from "@/ui/live/files-by-frame";
import { SavedByFrame } from "@/ui/live/saved-by-frame";
import { ShotProvider, type ShotParts } from "@/ui/shot/shot-context";
import { system } from "@/ui/theme/system";
import { PLAN } from "./plan";
import type { RunView } from "@/contract/run-view";
import type { SequenceView, SiblingView } from "@/contract/sequence-view";
import { NO_FILES } from "./no-files";

const NO_HELD = { frames: [], samples: [], share: [], seconds: [] };

export const RUN: RunView = {
  id: 3,
  versions: ["v001"],
  revisions: [{ version: "v001", follows: 1, newest: 1 }],
  state: "active",
  policy: "fill",
  wanted: "1-10",
  nodes: null,
  order: "first-to-last",
  priority: 0,
  startAt: null,
  stopAt: null,
  batch: null,
  after: null,
  awaits: null,
  limit: null,
  dispatch: null,
  lighting: null,
  isHandedOut: false,
  held: null,
  total: 10,
  done: 4,
  failed: 0,
  left: 6,
  deeds: [],
  createdAt: 0,
  endedAt: null,
  secondsAFrame: null,
  framesAMinute: null,
  likelyFinish: null,
  lateFinish: null,
};

export const sibling = (id: number, pass: SiblingView["pass"], good: number): SiblingView => ({
  id,
  camera: "main",
  pass,
  tally: packTally(deriveTally({ ...NO_FACTS, asked: rangeSet(1, 10), files: rangeSet(1, good) })),
  nodes: {},
});

/** @param change what differs of the view */
export function shotParts(
  change: Partial<SequenceView> = {},
  good: readonly number[] = [1, 2, 3, 4],
): ShotParts {
  const tally = deriveTally({ ...NO_FACTS, asked: rangeSet(1, 10), files: setOf(good) });
  const choice = { id: 1, version: 1, purpose: "final", camera: "main", pass: "beauty" } as const;
  const view: SequenceView = {
    id: 1,
    leadId: 1,
    tally: packTally(tally),
    files: NO_FILES,
    findings: [],
    closedFindings: [],
    runs: [],
    siblings: [sibling(1, "beauty", good.length)],
    elsewhere: null,
    check: null,
    nodes: {},
    saved: NO_HELD,
    ...change,
  };
  const shot: ShotView = {
    code: "CO010",
    title: "a component",
    first: 1,
    last: 10,
    markers: [],
    project: { title: "Test Film", slug: "test-film", rate: PLAN.rate },
    choices: [choice],
    versions: [{ id: 1, name: "v001", purpose: "final", status: "open", decided: null, discarded: null }],
    sequence: choice,
    namedAs: { namedProject: "test-film", namedShot: "CO010" },
    versionId: 1,
    revision: 1,
    revisionId: 1,
    plan: PLAN,
    madeFrom: null,
    sound: null,
    edit: null,
    folder: "/frames/test-film/CO010",
    watchedFolders: [],
    calls: [],
    scenes: [],
    renderers: [STAND_IN_OFFER],
    hasFiles: true,
  };
  return {
    now: {
      view,
      tally,
      counts: countsOf(tally),
      files: new FilesByFrame(NO_FILES),
      saved: new SavedByFrame(NO_HELD),
      names: phraseNames({ tally, markers: {}, nodes: {} }),
    },
    pointed: {
      selection: { set: EMPTY, text: "", error: null, outside: EMPTY, write: jest.fn(), pick: jest.fn() },
      focus: null,
    },
    work: {
      shot,
      stretches: {},
      used: null,
      setFocus: jest.fn(),
      bench: "check",
      openBench: jest.fn(),
      look: jest.fn(),
      draft: {
        plan: PLAN,
        offer: STAND_IN_OFFER,
        optionFaults: {},
        read: null,
        faults: {},
        changed: [],
        basedOn: null,
        change: jest.fn(),
        putBack: jest.fn(),
        changeVersion: jest.fn(),
        save: jest.fn(),
        isSaving: false,
        saveTrouble: null,
      },
      openSequence: jest.fn(),
    },
  };
}

/** A server that gives these answers, by the beginnings of addresses. @returns takes it away */
export function answering(answers: Readonly<Record<string, unknown>>): () => void {
  const before = global.fetch;
  global.fetch = jest.fn((url: string) => {
    const found = Object.keys(answers).find((beginning) => String(url).startsWith(beginning));
    return found === undefined
      ? Promise.reject(new Error(`nothing answers ${url}`))
      : Promise.resolve({ ok: true, status: 200, json: () => Promise.resolve(answers[found]) });
  }) as never;
  return () => (global.fetch = before);
}

/** @param isAsking the part asks a server, as `answering` is one; without, it shows what it has */
export function renderPart(
  part: ReactElement,
  parts: ShotParts = shotParts(),
  isAsking = false,
): RenderResult {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false, enabled: isAsking } } });
  return render(
    <ChakraProvider value={system}>
      <QueryClientProvider client={client}>
        <ShotProvider {...parts}>{part}</ShotProvider>
      </QueryClientProvider>
    </ChakraProvider>,
  );
}
