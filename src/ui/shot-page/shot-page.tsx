"use client";
/** The page of a shot: title, sentence, run strip, band, selection, and one bench at a time. */
import { Box, Flex, Tabs } from "@chakra-ui/react";
import { usePathname, useRouter, useSearchParams } from "next/navigation";
import { useMemo, useRef, useState } from "react";
import type { ShotView } from "@/contract/shot-view";
import { firstOf, union } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { markerSets, phraseNames } from "@/core/tally/names";
import { mapValues, unpackSet, unpackTally } from "@/core/tally/packed";
import { countsOf } from "@/core/tally/tally";
import { Band } from "../band/band";
import { CheckBench } from "../check/check-bench";
import { findingBeside } from "../check/step-findings";
import { messageOf, type ShotName } from "../live/api";
import { FilesByFrame } from "../live/files-by-frame";
import { HeldByFrame } from "../live/held-by-frame";
import { useSequence, useShot } from "../live/queries";
import { Header } from "../page/header";
import { Loading, Trouble } from "../page/states";
import { PatchBench, type PatchScope } from "../patch/patch-bench";
import { PlanBench } from "../plan/plan-bench";
import { type EditsByVersion, usePlanDraft } from "../shot/use-plan-draft";
import { ProveBench } from "../prove/prove-bench";
import { RunBench, type RunChoice } from "../run/run-bench";
import { useRunEnd } from "../run/use-run-end";
import { Tip } from "../theme/tip";
import { Look } from "../viewer/look";
import { FocusPicture } from "./focus-picture";
import { runOnShow } from "../shot/run-on-show";
import { RunStrip } from "./run-strip";
import { SelectionBar } from "./selection-bar";
import { SentenceText } from "../shot/sentence";
import { usedNumbers } from "@/core/edit/edit-use";
import { BENCHES, type BenchName, type ShotWork, ShotWorkProvider } from "../shot/shot-context";
import { Siblings } from "./siblings";
import { ShotFolder, ShotTitle } from "./title";
import { useKeys } from "../shot/use-keys";
import { useSelection } from "../shot/use-selection";
import type { SequenceView } from "@/contract/sequence-view";

const BENCH_TITLE: Readonly<Record<BenchName, string>> = {
  plan: "Plan",
  prove: "Prove",
  run: "Run",
  check: "Check",
  patch: "Patch",
};

export function ShotPage({ project, code }: ShotName) {
  const query = useSearchParams();
  const shot = useShot(
    { project, code },
    {
      version: query.get("version"),
      camera: query.get("camera"),
      pass: query.get("pass"),
    },
  );
  const sequence = useSequence(shot.data?.sequence.id);
  const edits = useState<EditsByVersion>({});
  const error = shot.data === undefined ? shot.error : sequence.data === undefined ? sequence.error : null;
  return (
    <Flex direction="column" minH="100vh" h={{ lg: "100vh" }}>
      <Header project={shot.data?.project.title ?? null} />
      {error !== null ? (
        <Trouble title={`${code} cannot be shown`} message={messageOf(error)} />
      ) : shot.data === undefined || sequence.data === undefined ? (
        <Loading what={code} />
      ) : (
        <Work key={sequence.data.id} shot={shot.data} view={sequence.data} edits={edits} />
      )}
    </Flex>
  );
}

function Work({
  shot,
  view,
  edits,
}: {
  readonly shot: ShotView;
  readonly view: SequenceView;
  readonly edits: Parameters<typeof usePlanDraft>[1];
}) {
  const router = useRouter();
  const pathname = usePathname();
  const query = useSearchParams();
  useRunEnd(shot.code, view.runs);
  const tally = useMemo(() => unpackTally(view.tally), [view.tally]);
  const counts = useMemo(() => countsOf(tally), [tally]);
  const files = useMemo(() => new FilesByFrame(view.files), [view.files]);
  const held = useMemo(() => new HeldByFrame(view.held), [view.held]);
  const stretches = useMemo(() => markerSets(shot.markers, shot.plan), [shot.markers, shot.plan]);
  const used = useMemo(
    () => (shot.edit === null ? null : usedNumbers(shot.edit, shot.plan)),
    [shot.edit, shot.plan],
  );
  const names = useMemo(
    () => phraseNames({ tally, markers: stretches, nodes: mapValues(view.nodes, unpackSet) }),
    [tally, stretches, view.nodes],
  );
  const shown = useMemo(() => union(tally.asked, tally.results.extra), [tally]);
  const selection = useSelection(shown, names);
  const [focus, setFocus] = useState<number | null>(() => view.findings[0]?.frame ?? null);
  const [looking, setLooking] = useState(false);
  const [stretch, setStretch] = useState<{ readonly first: number; readonly last: number } | null>(null);
  const [isFlagging, setFlagging] = useState(false);
  const [proofPhrase, setProofPhrase] = useState("first,middle,last");
  const [runChoice, setRunChoice] = useState<RunChoice>({ scope: "all", phrase: "" });
  const [patchScope, setPatchScope] = useState<PatchScope>("mend");
  const draft = usePlanDraft(shot, edits);
  const field = useRef<HTMLInputElement>(null);

  const wanted = query.get("bench");
  const bench = BENCHES.find((name) => name === wanted) ?? "run";
  const go = (change: Record<string, string | null>): void => {
    const next = new URLSearchParams(query.toString());
    for (const [key, value] of Object.entries(change)) {
      if (value === null) next.delete(key);
      else next.set(key, value);
    }
    router.replace(`${pathname}?${next}`, { scroll: false });
  };
  const openBench = (name: BenchName): void => go({ bench: name });
  const look = (frame: number, last?: number): void => {
    setFocus(frame);
    setStretch(last === undefined ? null : { first: frame, last });
    setLooking(true);
  };
  const work: ShotWork = {
    shot,
    view,
    tally,
    counts,
    files,
    held,
    names,
    selection,
    focus,
    setFocus,
    bench,
    openBench,
    look,
    draft,
    stretches,
    used,
    openSequence: ({ version, camera, pass }) =>
      go({ version: version ?? null, camera: camera ?? null, pass: pass ?? null }),
  };
  const stepFinding = (direction: 1 | -1): void => {
    const next = findingBeside(view.findings, focus, direction);
    if (next !== null) setFocus(next);
  };
  useKeys(
    {
      ...Object.fromEntries(BENCHES.map((name, i) => [String(i + 1), () => openBench(name)])),
      "/": () => field.current?.focus(),
      "?": () => router.push("/help"),
      v: () => look(firstOf(selection.set) ?? focus ?? firstOf(shown) ?? 0),
      "[": () => stepFinding(-1),
      "]": () => stepFinding(1),
    },
    !looking,
  );
  const run = runOnShow(view.runs);
  const use: Readonly<Record<BenchName, (() => void) | null>> = {
    plan: () => draft.change({ frames: formatPhrase(selection.set) }),
    prove: () => setProofPhrase(formatPhrase(selection.set)),
    run: () => setRunChoice({ ...runChoice, scope: "selection" }),
    check: null,
    patch: () => setPatchScope("selection"),
  };

  return (
    <ShotWorkProvider value={work}>
      <Flex as="main" direction="column" flex="1" minH="0" px="6" pt="1" pb="2" gap="1">
        <ShotTitle />
        <Flex gap="5" align="baseline" justify="space-between" flexWrap={{ base: "wrap", lg: "nowrap" }}>
          <Box fontSize="md" flexShrink={0}>
            <SentenceText counts={counts} onPick={(phrase) => selection.write(phrase)} />
          </Box>
          <ShotFolder />
        </Flex>
        {run !== null && <RunStrip run={run} />}
        <Siblings />
        <Box>
          <Band
            sequenceId={view.id}
            leadId={view.leadId}
            tally={tally}
            files={files}
            held={held}
            markers={stretches}
            used={used}
            selection={selection.set}
            focus={focus}
            onSelect={selection.pick}
            onFocus={setFocus}
            onLook={(frame) => look(frame)}
            picture={<FocusPicture />}
          />
        </Box>
        <SelectionBar
          field={field}
          isFlagging={isFlagging}
          onFlagging={setFlagging}
          hasKeys={!looking}
          onUse={use[bench]}
        />
        <Tabs.Root
          value={bench}
          onValueChange={(details) => openBench(details.value as BenchName)}
          display="flex"
          flexDirection="column"
          flex="1"
          minH="0"
          variant="line"
          size="md"
        >
          <Tabs.List borderBottomWidth="0" mb="1" minH="28px" aria-label="Benches">
            {BENCHES.map((name, i) => (
              <Tip key={name} text={`Key ${i + 1}`}>
                <Tabs.Trigger
                  value={name}
                  px="0"
                  mr="7"
                  h="28px"
                  fontSize="md"
                  color="softInk"
                  _selected={{ color: "ink", fontWeight: "700", _before: { bg: "ink", h: "3px" } }}
                >
                  {BENCH_TITLE[name]}
                </Tabs.Trigger>
              </Tip>
            ))}
          </Tabs.List>
          {BENCHES.map((name) => (
            // Every bench stays mounted, so that what was decided there is not lost by a look at another.
            <Tabs.Content
              key={name}
              value={name}
              p="0"
              flex="1"
              minH="0"
              display="flex"
              _closed={{ display: "none" }}
            >
              <Flex flex="1" minH="0" minW="0">
                {name === "plan" ? (
                  <PlanBench />
                ) : name === "prove" ? (
                  <ProveBench phrase={proofPhrase} onPhrase={setProofPhrase} />
                ) : name === "run" ? (
                  <RunBench choice={runChoice} onChoice={setRunChoice} />
                ) : name === "check" ? (
                  <CheckBench />
                ) : (
                  <PatchBench scope={patchScope} onScope={setPatchScope} />
                )}
              </Flex>
            </Tabs.Content>
          ))}
        </Tabs.Root>
        {looking && focus !== null && (
          <Look frame={focus} stretch={stretch} onFrame={setFocus} onClose={() => setLooking(false)} />
        )}
      </Flex>
    </ShotWorkProvider>
  );
}
