"use client";
/**
 * All shots of the project as lines of a ledger, found as one types, in order and in groups, under one sentence
 * for all of them. What changed comes as news, a line at a time (live/lines-wanted): a ledger may have 500 of them.
 */
import { Box, Button, Flex, Heading, Input, Text } from "@chakra-ui/react";
import NextLink from "next/link";
import { useCallback, useDeferredValue, useMemo, useRef, useState } from "react";
import type { ShotsView } from "@/contract/shot-view";
import { byNextStep, inLedgerOrder, isFound, type LedgerOrder, projectTally } from "@/core/tally/ledger";
import { rateText } from "@/core/timing/rate";
import { Select, Toggle } from "../fields/fields";
import { messageOf, projectPage } from "../live/api";
import { useShots } from "../live/queries";
import { ThisMorning } from "../news/this-morning";
import { Header, useNow } from "../page/header";
import { Loading, Trouble } from "../page/states";
import { useKeys } from "../page/use-keys";
import { count, frames } from "../words";
import { ProjectDoors } from "./add-shots-page";
import { ArchivedShots } from "./archived-shots";
import { SeveralShots } from "./several-shots";
import { ShotRow } from "./shot-row";
import { type LedgerLine, useLedger } from "./use-ledger";
import { ORDER_TEXT, projectSentence, STEP_TEXT } from "./words";

/** With fewer lines one sees them all, and nothing has to be found. */
const FIND_FROM = 5;

/** How the lines are looked through. */
interface LedgerView {
  readonly find: string;
  readonly order: LedgerOrder;
  readonly isGrouped: boolean;
}

function LedgerBar({
  view,
  change,
  found,
  all,
  isChoosing,
  onChoosing,
}: {
  readonly view: LedgerView;
  readonly change: (more: Partial<LedgerView>) => void;
  readonly found: number;
  readonly all: number;
  /** Lines can be chosen. */
  readonly isChoosing: boolean;
  readonly onChoosing: () => void;
}) {
  const field = useRef<HTMLInputElement>(null);
  useKeys({ "/": () => field.current?.focus() }, true);
  return (
    <Flex gap="4" rowGap="1" align="center" flexWrap="wrap" mb="3" role="search">
      <Input
        ref={field}
        size="xs"
        w="320px"
        bg="sheet"
        aria-label="Find shots"
        placeholder="code, title, flagged, v002, quay-1, -done  ( / )"
        value={view.find}
        onChange={(event) => change({ find: event.target.value })}
        onKeyDown={(event) => event.key === "Escape" && change({ find: "" })}
      />
      {view.find.trim() !== "" && (
        <Text className="figures" role="status">
          {count(found)} of {count(all)}
        </Text>
      )}
      <Flex gap="2" align="center">
        <Text color="softInk" whiteSpace="nowrap">
          in order of
        </Text>
        <Select<LedgerOrder>
          label="In order of"
          value={view.order}
          options={Object.entries(ORDER_TEXT).map(([key, text]) => [key as LedgerOrder, text] as const)}
          onChange={(order) => change({ order })}
        />
      </Flex>
      <Toggle isOn={view.isGrouped} onChange={(isGrouped) => change({ isGrouped })}>
        grouped by what is to be done next
      </Toggle>
      <Button size="xs" variant="plain" ml="auto" aria-pressed={isChoosing} onClick={onChoosing}>
        Choose several
      </Button>
    </Flex>
  );
}

function Lines({
  project,
  rate,
  lines,
  chosen,
  onPick,
}: {
  readonly project: string;
  readonly rate: ShotsView["project"]["rate"];
  readonly lines: readonly LedgerLine[];
  /** Codes; null: nothing is chosen now. */
  readonly chosen: ReadonlySet<string> | null;
  readonly onPick: (code: string, isPicked: boolean) => void;
}) {
  return lines.map((line) => (
    <ShotRow
      key={line.code}
      project={project}
      line={line}
      rate={rate}
      isPicked={chosen === null ? null : chosen.has(line.code)}
      onPick={onPick}
    />
  ));
}

/** Shots whose lines are still to come. */
const unreadOf = ({ shots, rest }: ShotsView): number => {
  const known = new Set(shots.map((line) => line.code));
  return rest.filter((code) => !known.has(code)).length;
};

/** Apart, as it is told anew each second. */
function Sentence({ lines, unread }: { readonly lines: readonly LedgerLine[]; readonly unread: number }) {
  const now = useNow();
  const tally = useMemo(() => projectTally(lines), [lines]);
  return (
    <Text mb="3" minH="1lh" className="figures" data-testid="project-sentence">
      {now === null
        ? ""
        : unread > 0
          ? `Counting: ${count(lines.length)} of ${count(lines.length + unread)} shots.`
          : projectSentence(tally, now)}
    </Text>
  );
}

function Ledger({ project, data }: { readonly project: string; readonly data: ShotsView }) {
  const all = useLedger(data.shots);
  const [view, setView] = useState<LedgerView>({ find: "", order: "code", isGrouped: false });
  // The field answers at once; the lines follow.
  const find = useDeferredValue(view.find);
  const lines = useMemo(
    () =>
      inLedgerOrder(
        all.filter((line) => isFound(line, find)),
        view.order,
      ),
    [all, find, view.order],
  );
  const [chosen, setChosen] = useState<ReadonlySet<string> | null>(null);
  const onPick = useCallback(
    (code: string, isPicked: boolean): void =>
      setChosen((before) => {
        const next = new Set(before);
        if (isPicked) next.add(code);
        else next.delete(code);
        return next;
      }),
    [],
  );
  const shown = { project, rate: data.project.rate, chosen, onPick };
  return (
    <>
      <Sentence lines={all} unread={unreadOf(data)} />
      <ThisMorning project={project} />
      {all.length >= FIND_FROM && (
        <LedgerBar
          view={view}
          change={(more) => setView((before) => ({ ...before, ...more }))}
          found={lines.length}
          all={all.length}
          isChoosing={chosen !== null}
          onChoosing={() => setChosen(chosen === null ? new Set() : null)}
        />
      )}
      {chosen !== null && (
        <SeveralShots
          project={project}
          // What has left the ledger meanwhile is not chosen any more.
          chosen={all.map((line) => line.code).filter((code) => chosen.has(code))}
          found={lines.map((line) => line.code)}
          onChoose={(codes) => setChosen(new Set(codes))}
          onDone={() => setChosen(null)}
        />
      )}
      {lines.length === 0 && <Text color="softInk">No shot is called so, or is in such a state.</Text>}
      {view.isGrouped ? (
        byNextStep(lines).map((group) => (
          <Box as="section" key={group.step} aria-label={STEP_TEXT[group.step]} mb="6">
            <Heading as="h2" fontSize="md" fontWeight="700" mb="1">
              {STEP_TEXT[group.step]}
              <Box as="span" color="softInk" fontWeight="400">
                {" "}
                {count(group.shots.length)} shot{group.shots.length === 1 ? "" : "s"}
                {group.frames > 0 ? `, ${frames(group.frames)}` : ""}
              </Box>
            </Heading>
            <Lines {...shown} lines={group.shots} />
          </Box>
        ))
      ) : (
        <Lines {...shown} lines={lines} />
      )}
    </>
  );
}

/** A line a shot: what it is, its band, what goes on, when it is done. */
export function ShotsPage({ project }: { readonly project: string }) {
  const { data, error } = useShots(project);
  return (
    <>
      <Header project={data?.project ?? null} />
      {data === undefined && error === null && <Loading what="the shots" />}
      {data === undefined && error !== null && (
        <Trouble title="The shots cannot be shown" message={messageOf(error)} />
      )}
      {data !== undefined && (
        <Box as="main" px="6" pt="5" maxW="1680px" mx="auto">
          <Flex align="baseline" gap="4" mb="1">
            <Heading as="h1" fontSize="xl" fontWeight="700">
              {data.project.title}
            </Heading>
            <Text color="softInk" className="figures">
              {count(data.shots.length + unreadOf(data))} shot
              {data.shots.length + unreadOf(data) === 1 ? "" : "s"} · {rateText(data.project.rate)} frames a
              second
            </Text>
            <Flex gap="2" ml="auto">
              {data.edit !== null && (
                <Button asChild size="sm" variant="outline">
                  <NextLink href={`${projectPage(project)}/edit`} title={data.edit}>
                    Play the edit
                  </NextLink>
                </Button>
              )}
              {data.edit !== null && (
                <Button asChild size="sm" variant="outline">
                  <NextLink href={`${projectPage(project)}/hand-over`} title={data.edit}>
                    Hand over the edit
                  </NextLink>
                </Button>
              )}
              {data.shots.length > 0 && (
                <Button asChild size="sm" variant="outline">
                  <NextLink href={`${projectPage(project)}/patch`}>Patch all shots</NextLink>
                </Button>
              )}
              {data.shots.length > 0 && (
                <Button asChild size="sm" variant="outline">
                  <NextLink href={`${projectPage(project)}/add`}>Add shots</NextLink>
                </Button>
              )}
            </Flex>
          </Flex>
          {data.shots.length === 0 ? (
            <>
              <Text color="softInk" mb="5">
                No shot yet. Bring in what you have.
              </Text>
              <ProjectDoors project={project} />
            </>
          ) : (
            <Ledger project={project} data={data} />
          )}
          {data.archived.length > 0 && <ArchivedShots project={project} codes={data.archived} />}
        </Box>
      )}
    </>
  );
}
