"use client";
/**
 * Check: is every number there, is every file whole; and what was found, by a check, a node or a person.
 * The check runs on the server and goes on when the page is closed; how far it is comes with the sequence.
 * Its answer, what came, changed and went since the last look, is told to whoever pressed the button.
 */
import { Box, Button, Flex, Progress, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { type ReactNode, useMemo, useState } from "react";
import { messageOf, post, remove } from "../live/api";
import { Bench, Caption, Line } from "../page/bench";
import { useNow } from "../page/header";
import { setOf, union } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { Select } from "../fields/fields";
import type { OddView } from "@/contract/odd-view";
import { Refusal } from "../page/states";
import { useShotWork, useSequenceNow, usePointed } from "../shot/shot-context";
import { clock, count, frames } from "../words";
import { FrameHistory } from "./frame-history";
import { OddPane } from "./odd-pane";
import { SharedCauses } from "./shared-causes";
import { ThresholdsForm } from "./thresholds-form";
import { useOdd } from "./use-odd";
import { type FindingOrder, kindsOf, listedFindings } from "./listed-findings";
import { findingKind, findingText, sourceText, STATE_WORD } from "./words";
import type { FindingView } from "@/contract/sequence-view";
import { UNDERLINED } from "../theme/underlined";

/** More lines than a person reads at once; the band and the phrase show the rest. */
const FINDINGS_SHOWN = 200;

/**
 * A check reads every file anew and says how far it is; it can be cancelled and keeps what it has read.
 * Findings stay on the right, whoever found them.
 */
export function CheckBench({
  hasKeys = true,
  more,
}: {
  /** Nothing lies over the page. */
  readonly hasKeys?: boolean;
  /** What can be learned of the frames beside their files. */
  readonly more?: ReactNode;
}) {
  const { bench, openBench } = useShotWork();
  const { view, tally, counts, files } = useSequenceNow();
  const { selection } = usePointed();
  const isShown = bench === "check";
  const odd = useOdd(view.id, isShown).data;
  const bad = useMemo(
    () =>
      union(
        tally.results.flagged,
        setOf((odd?.odd ?? []).filter((one) => one.state !== "dismissed").map((one) => one.frame)),
      ),
    [tally, odd],
  );
  const check = useMutation({
    mutationFn: () =>
      post<{ appeared: string; changed: string; gone: string }>(`/api/sequences/${view.id}/check`),
  });
  const cancel = useMutation({ mutationFn: () => remove(`/api/sequences/${view.id}/check`) });
  const { results } = counts;
  const open = results.flagged + results.missing + results.failed + results.partial + results.stale;
  return (
    <Bench
      left={
        <>
          <Caption>Files of this sequence</Caption>
          <Text mb="3">
            Reads every file anew: is it there, whole, of the right size, with the checksums it was written
            with. The folder is also watched, so that what changes there shows here within seconds.
          </Text>
          {view.check === null ? (
            <Button loading={check.isPending} onClick={() => check.mutate()}>
              Check {frames(files.index.count)}
            </Button>
          ) : (
            <Flex gap="4" align="center">
              <Progress.Root
                value={view.check.total === 0 ? 100 : (view.check.done / view.check.total) * 100}
                w="220px"
                size="sm"
                aria-label="Check"
              >
                <Progress.Track>
                  <Progress.Range bg="petrol" />
                </Progress.Track>
              </Progress.Root>
              <Text className="figures">
                {count(view.check.done)} of {count(view.check.total)} read
              </Text>
              <Button size="xs" variant="plain" onClick={() => cancel.mutate()}>
                Cancel; what was read stays
              </Button>
            </Flex>
          )}
          {check.isSuccess && view.check === null && (
            <Box mt="3" role="status" data-testid="check-result">
              <Line label="Came since the last look">{check.data.appeared || "nothing"}</Line>
              <Line label="Changed since">{check.data.changed || "nothing"}</Line>
              <Line label="Gone since">{check.data.gone || "nothing"}</Line>
            </Box>
          )}
          {check.error !== null && <Refusal>{messageOf(check.error)}</Refusal>}
          <Text mt="4">
            {open === 0 ? (
              "Nothing needs rendering."
            ) : (
              <>
                {frames(open)} need rendering.{" "}
                <Button size="sm" variant="plain" onClick={() => selection.write("todo")}>
                  Select them
                </Button>{" "}
                <Button size="sm" variant="plain" onClick={() => openBench("patch")}>
                  Go to Patch
                </Button>
              </>
            )}
          </Text>
          <Text mt="2" color="softInk">
            To reject a picture by eye, select it on the band and press Flag (F). [ and ] step through the
            findings, and through what is odd.
          </Text>
          {odd !== undefined && (
            <>
              <Measuring odd={odd} />
              <SharedCauses bad={bad} isShown={isShown} />
            </>
          )}
          {more}
        </>
      }
      right={
        <>
          {odd !== undefined && odd.measured > 0 && <OddPane odd={odd} hasKeys={hasKeys && isShown} />}
          <Findings />
          <FrameHistory isShown={isShown} />
        </>
      }
    />
  );
}

/** How far measuring is, and by which figures something is odd. */
function Measuring({ odd }: { readonly odd: OddView }) {
  const [isOpen, setOpen] = useState(false);
  const { measured, waiting, unshown, nodesAwake } = odd;
  return (
    <Box mt="5" data-testid="measuring">
      <Caption>Odd among its neighbours</Caption>
      <Text>
        {measured === 0 && waiting === 0
          ? "There is no whole file to measure yet."
          : `${count(measured)} of ${frames(measured + waiting)} measured`}
        {waiting === 0
          ? measured > 0
            ? ": pops, frozen frames, flicker of a part, hot pixels, and what is far off its neighbours."
            : ""
          : nodesAwake > 0
            ? `; ${nodesAwake === 1 ? "a node is" : `${nodesAwake} nodes are`} at it, between frames.`
            : ". No node is awake: they are measured as soon as one is."}
        {unshown > 0 ? ` ${frames(unshown)} of a kind that cannot be shown, nor measured.` : ""}
      </Text>
      {measured > 0 && (
        <Button size="xs" variant="plain" mt="1" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
          {isOpen ? "Hide how far off is odd" : "How far off is odd…"}
        </Button>
      )}
      {isOpen && <ThresholdsForm odd={odd} />}
    </Box>
  );
}

/**
 * Open ones first; closed ones on request, with who closed them: what was wrong once explains what a picture
 * looks like now.
 */
function Findings() {
  const { view } = useSequenceNow();
  const { selection } = usePointed();
  const [showsClosed, setShowsClosed] = useState(false);
  const [chosen, setKind] = useState("all");
  const [order, setOrder] = useState<FindingOrder>("frame");
  const kinds = kindsOf(view.findings);
  // The last of a kind may be mended while only that kind is listed.
  const kind = kinds.includes(chosen) ? chosen : "all";
  const listed = listedFindings(view.findings, kind, order);
  return (
    <>
      <Flex justify="space-between" align="baseline">
        <Caption>
          {view.findings.length === 0
            ? "Nothing found"
            : `${count(view.findings.length)} finding${view.findings.length === 1 ? "" : "s"} open`}
        </Caption>
        <Flex gap="2" align="center">
          {view.closedFindings.length > 0 && (
            <Button size="xs" variant="plain" onClick={() => setShowsClosed(!showsClosed)}>
              {showsClosed ? "Hide the closed ones" : `Show ${count(view.closedFindings.length)} closed`}
            </Button>
          )}
          {kind !== "all" && (
            <Button
              size="xs"
              variant="plain"
              onClick={() => selection.write(formatPhrase(setOf(listed.map(({ frame }) => frame))))}
            >
              Select these
            </Button>
          )}
          {kinds.length > 1 && (
            <Select
              label="Kind of finding"
              value={kind}
              onChange={setKind}
              options={[["all", "all kinds"], ...kinds.map((code) => [code, findingKind(code)] as const)]}
            />
          )}
          {view.findings.length > 1 && (
            <Select<FindingOrder>
              label="Order of findings"
              value={order}
              onChange={setOrder}
              options={[
                ["frame", "by frame"],
                ["newest", "newest first"],
              ]}
            />
          )}
        </Flex>
      </Flex>
      {view.findings.length === 0 && (
        <Text color="softInk">No check, node or person has anything against these frames.</Text>
      )}
      {listed.slice(0, FINDINGS_SHOWN).map((finding) => (
        <FindingLine key={finding.id} finding={finding} />
      ))}
      {listed.length > FINDINGS_SHOWN && (
        <Text color="softInk" pt="2">
          And {count(listed.length - FINDINGS_SHOWN)} more; the phrase <code>flagged</code> selects them all.
        </Text>
      )}
      {showsClosed &&
        view.closedFindings.map((finding) => <FindingLine key={finding.id} finding={finding} />)}
    </>
  );
}

/** One finding, with the way to its frame and to its picture. */
function FindingLine({ finding }: { readonly finding: FindingView }) {
  const { setFocus, look } = useShotWork();
  const now = useNow();
  const isOpen = finding.state === "open";
  return (
    <Flex
      gap="3"
      py="1.5"
      {...UNDERLINED}
      align="baseline"
      {...(isOpen ? {} : { color: "softInk" })}
      data-testid="finding"
      data-state={finding.state}
    >
      <Button variant="plain" size="xs" fontFamily="mono" onClick={() => setFocus(finding.frame)}>
        {finding.frame}
      </Button>
      <Box flex="1" minW="0" overflowWrap="anywhere">
        {findingText(finding)}
      </Box>
      <Text color="softInk" fontSize="xs" flexShrink={0} className="figures">
        {isOpen
          ? sourceText(finding)
          : `${STATE_WORD[finding.state]}${finding.closedWho === null ? "" : ` by ${finding.closedWho}`}${finding.closedAt === null || now === null ? "" : ` ${clock(finding.closedAt, now)}`}`}
      </Text>
      <Button variant="plain" size="xs" onClick={() => look(finding.frame)}>
        Look
      </Button>
    </Flex>
  );
}
