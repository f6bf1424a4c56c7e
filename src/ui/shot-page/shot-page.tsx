"use client";
/**
 * The page of a shot: title, sentence, run strip, band, selection, and one bench at a time.
 * It decides what is shown and keeps what must outlive a bench: which frames were chosen for proving,
 * running, patching, and the drafts of plans. What the parts share is put together in use-shot-parts.
 */
import { Box, Flex } from "@chakra-ui/react";
import { useRouter, useSearchParams } from "next/navigation";
import { memo, useMemo, useRef, useState } from "react";
import type { SequenceView } from "@/contract/sequence-view";
import type { ShotView } from "@/contract/shot-view";
import { firstOf } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { ShotBand } from "../viewer/shot-band";
import { CheckBench } from "../check/check-bench";
import { findingBeside } from "../check/step-findings";
import { useOdd } from "../check/use-odd";
import { messageOf, type ShotName } from "../live/api";
import { useSequence, useShot } from "../live/queries";
import { HandoverBench, type HandoverScope, WHOLE_SEQUENCE } from "../handover/handover-bench";
import { Header } from "../page/header";
import { Loading, Trouble } from "../page/states";
import { PatchBench, type PatchScope } from "../patch/patch-bench";
import { PlanBench } from "../plan/plan-bench";
import { useKeptEdits } from "../shot/use-kept-edits";
import { ProveBench } from "../prove/prove-bench";
import { RunBench } from "../run/run-bench";
import type { RunChoice } from "../run/use-run-wish";
import { useRunEnd } from "../run/use-run-end";
import { Look } from "../viewer/look";
import { BenchTabs } from "./bench-tabs";
import { FocusPicture } from "./focus-picture";
import { runOnShow } from "../shot/run-on-show";
import { RunStrip } from "./run-strip";
import { SelectionBar } from "./selection-bar";
import { SentenceText } from "../shot/sentence";
import {
  BENCHES,
  type BenchName,
  ShotProvider,
  usePointed,
  useSequenceNow,
  useShotWork,
} from "../shot/shot-context";
import { Siblings } from "./siblings";
import { ShotFolder, ShotTitle } from "./title";
import { useKeys } from "../page/use-keys";
import { ArrivalsLine } from "../watched/arrivals-line";
import { AskBench, type AskScope } from "../watched/ask-bench";
import { LogPane } from "../watched/log-pane";
import { NoProofs } from "../watched/no-proofs";
import { WatchedPlan } from "../watched/watched-plan";
import { type Looking, useShotParts } from "./use-shot-parts";

/** Which version, camera and pass is in the address, so that a link shows what its sender saw. */
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
  const edits = useKeptEdits({ project, code });
  const error = shot.data === undefined ? shot.error : sequence.data === undefined ? sequence.error : null;
  return (
    <Flex direction="column" minH="100vh" h={{ lg: "100vh" }}>
      <Header project={shot.data?.project ?? null} />
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

/** The page of one sequence; another one begins anew, with what is pointed at, and keeps the drafts. */
function Work({
  shot,
  view,
  edits,
}: {
  readonly shot: ShotView;
  readonly view: SequenceView;
  readonly edits: Parameters<typeof useShotParts>[2];
}) {
  useRunEnd(shot.code, view.runs);
  const { looking, endLook, ...parts } = useShotParts(shot, view, edits);
  return (
    <ShotProvider {...parts}>
      <Layout looking={looking} onEndLook={endLook} />
    </ShotProvider>
  );
}

/** Drawn anew when somebody acts; what changes with the frames is drawn by the parts. */
const Layout = memo(function Layout({
  looking,
  onEndLook,
}: {
  readonly looking: Looking | null;
  readonly onEndLook: () => void;
}) {
  const { bench, draft, setFocus, look, shot } = useShotWork();
  const { selection, focus } = usePointed();
  const [isFlagging, setFlagging] = useState(false);
  const [proofPhrase, setProofPhrase] = useState("first,middle,last");
  const [runChoice, setRunChoice] = useState<RunChoice>({ scope: "all", phrase: "" });
  const [askScope, setAskScope] = useState<AskScope>("fill");
  const [patchScope, setPatchScope] = useState<PatchScope>("mend");
  const [handoverScope, setHandoverScope] = useState<HandoverScope>(WHOLE_SEQUENCE);
  const field = useRef<HTMLInputElement>(null);
  // What "Use in the bench" does with the selection; Check has no use for one.
  const use: Readonly<Record<BenchName, (() => void) | null>> = {
    plan: () => draft.change({ frames: formatPhrase(selection.set) }),
    prove: () => setProofPhrase(formatPhrase(selection.set)),
    run: () => {
      setRunChoice({ ...runChoice, scope: "selection" });
      setAskScope("selection");
    },
    check: null,
    patch: () => setPatchScope("selection"),
    handover: () => setHandoverScope({ ...handoverScope, of: "selection" }),
  };
  const isWatched = shot.plan.watched !== null;
  const hasKeys = looking === null;
  const benches = useMemo(
    () =>
      isWatched
        ? {
            plan: <WatchedPlan />,
            prove: <NoProofs />,
            run: <AskBench scope={askScope} onScope={setAskScope} />,
            check: <CheckBench hasKeys={hasKeys} more={<LogPane />} />,
            patch: <AskBench scope={patchScope} onScope={setPatchScope} />,
            handover: <HandoverBench scope={handoverScope} onScope={setHandoverScope} />,
          }
        : {
            plan: <PlanBench />,
            prove: <ProveBench phrase={proofPhrase} onPhrase={setProofPhrase} />,
            run: <RunBench choice={runChoice} onChoice={setRunChoice} />,
            check: <CheckBench hasKeys={hasKeys} />,
            patch: <PatchBench scope={patchScope} onScope={setPatchScope} />,
            handover: <HandoverBench scope={handoverScope} onScope={setHandoverScope} />,
          },
    [isWatched, hasKeys, proofPhrase, runChoice, askScope, patchScope, handoverScope],
  );
  return (
    <Flex as="main" direction="column" flex="1" minH="0" px="6" pt="1" pb="2" gap="1">
      <PageKeys isOn={hasKeys} onField={() => field.current?.focus()} />
      <ShotTitle />
      <Flex gap="5" align="baseline" justify="space-between" flexWrap={{ base: "wrap", lg: "nowrap" }}>
        <Box fontSize="md" minW="0" flexShrink={{ base: 1, lg: 0 }}>
          <Sentence />
        </Box>
        <ShotFolder />
      </Flex>
      <Strip />
      <ArrivalsLine />
      <Siblings />
      <Box>
        <ShotBand focus={focus} onFocus={setFocus} onLook={look} picture={<FocusPicture />} />
      </Box>
      <SelectionBar
        field={field}
        isFlagging={isFlagging}
        onFlagging={setFlagging}
        hasKeys={hasKeys}
        onUse={use[bench]}
      />
      <BenchTabs benches={benches} />
      {looking !== null && focus !== null && (
        <Look frame={focus} stretch={looking.stretch} onFrame={setFocus} onClose={onEndLook} />
      )}
    </Flex>
  );
});

/** The tally in words, over the band; each clause selects its frames. */
function Sentence() {
  const { counts } = useSequenceNow();
  const { selection } = usePointed();
  return <SentenceText counts={counts} onPick={selection.write} />;
}

/** There while a run matters, and else no line is spent on it. */
function Strip() {
  const run = runOnShow(useSequenceNow().view.runs);
  return run === null ? null : <RunStrip run={run} />;
}

/** Keys of the whole page. */
function PageKeys({ isOn, onField }: { readonly isOn: boolean; readonly onField: () => void }): null {
  const router = useRouter();
  const { bench, openBench, setFocus, look } = useShotWork();
  const { view, tally } = useSequenceNow();
  const { selection, focus } = usePointed();
  const odd = useOdd(view.id, bench === "check").data?.odd ?? [];
  const stepFinding = (direction: 1 | -1): void => {
    const open = odd.filter(({ state }) => state === "open");
    const next = findingBeside([...view.findings, ...open], focus, direction);
    if (next !== null) setFocus(next);
  };
  useKeys(
    {
      ...Object.fromEntries(BENCHES.map((name, i) => [String(i + 1), () => openBench(name)])),
      "/": onField,
      "?": () => router.push("/help"),
      v: () =>
        look(firstOf(selection.set) ?? focus ?? firstOf(tally.asked) ?? firstOf(tally.results.extra) ?? 0),
      "[": () => stepFinding(-1),
      "]": () => stepFinding(1),
    },
    isOn,
  );
  return null;
}
