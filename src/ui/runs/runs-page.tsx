"use client";
/**
 * What goes, what waits, what is held and why, over all shots, in the order in which it gets nodes; and the same
 * done to several at once.
 */
import { Box, Button, Checkbox, Flex, Heading, Table, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import NextLink from "next/link";
import { useState } from "react";
import { PRIORITIES, type Priority } from "@/contract/run-manner";
import type { ChangedRunsView, ChangeRunsBody, HouseRunsView, HouseRunView } from "@/contract/runs-view";
import { standstillOf } from "@/core/run/standstill";
import { Select } from "../fields/fields";
import { messageOf, post, shotPage } from "../live/api";
import { useLive } from "../live/live-store";
import { useHouseRuns } from "../live/queries";
import { queryKeys } from "../live/query-keys";
import { Header, useNow } from "../page/header";
import { Loading, Refusal, Trouble } from "../page/states";
import { PRIORITY_TEXT } from "../run/words";
import { heldText } from "../shot-page/held-line";
import { clock, count, deedText, frames, standstillText } from "../words";

/** What a run does now, in a few words; what is the matter in brick, what it waits for in ochre. */
function Doing({ run }: Pick<HouseRunView, "run">) {
  const now = useNow();
  const { rendering, nodes } = useLive();
  if (now === null) return null;
  if (run.held !== null) return <Text color="brick">{heldText(run.held)}</Text>;
  if (run.state === "done") return <Text color="softInk">done {clock(run.endedAt ?? now, now)}</Text>;
  if (run.state === "stopped")
    return (
      <Text color="softInk">
        {run.deeds[0] === undefined ? "stopped" : deedText(run.deeds[0], now)}, {frames(run.left)} left
      </Text>
    );
  if (run.state !== "active") return <Text color="softInk">stopping</Text>;
  const inWork = rendering.filter((r) => r.runId === run.id);
  const still = standstillOf({ ...run, isHeld: false }, inWork.length, nodes, now);
  const text = still === null ? null : standstillText(still, now);
  return text === null ? (
    <Text>
      {inWork.length === 0
        ? "waits for a node"
        : `${frames(inWork.length)} in work on ${[...new Set(inWork.map((r) => r.node))].join(", ")}`}
    </Text>
  ) : (
    <Text color="ochre">{text}</Text>
  );
}

/** When a run is likely done. */
function Finish({ run }: Pick<HouseRunView, "run">) {
  const now = useNow();
  if (now === null || run.likelyFinish === null || run.state === "stopped") return null;
  return <>{clock(run.likelyFinish, now)}</>;
}

function Line({
  line: { project, shot, title, run },
  isPicked,
  onPick,
}: {
  readonly line: HouseRunView;
  readonly isPicked: boolean;
  readonly onPick: (isPicked: boolean) => void;
}) {
  return (
    <Table.Row bg="transparent" aria-label={`Run ${run.id}`}>
      <Table.Cell ps="0" w="32px">
        <Checkbox.Root
          size="sm"
          checked={isPicked}
          onCheckedChange={(details) => onPick(details.checked === true)}
        >
          <Checkbox.HiddenInput aria-label={`Choose run ${run.id}`} />
          <Checkbox.Control />
        </Checkbox.Root>
      </Table.Cell>
      <Table.Cell whiteSpace="nowrap">Run {run.id}</Table.Cell>
      <Table.Cell>
        <Box asChild fontWeight="700" _hover={{ color: "petrol" }}>
          <NextLink href={`${shotPage({ project, code: shot })}?bench=run`}>{shot}</NextLink>
        </Box>{" "}
        <Box as="span" color="softInk">
          {title === shot ? "" : title} {run.versions.join(", ")}, {project}
        </Box>
      </Table.Cell>
      <Table.Cell className="figures" whiteSpace="nowrap">
        {count(run.done)} of {frames(run.total)}
        {run.failed > 0 && (
          <Box as="span" color="brick">
            , {count(run.failed)} set aside
          </Box>
        )}
      </Table.Cell>
      <Table.Cell overflowWrap="anywhere">
        <Doing run={run} />
      </Table.Cell>
      <Table.Cell className="figures" whiteSpace="nowrap">
        <Finish run={run} />
      </Table.Cell>
      <Table.Cell whiteSpace="nowrap" pe="0">
        {PRIORITY_TEXT[run.priority]}
      </Table.Cell>
    </Table.Row>
  );
}

/** What is done to the runs that are chosen. */
function Deeds({ chosen, onDone }: { readonly chosen: readonly number[]; readonly onDone: () => void }) {
  const client = useQueryClient();
  const change = useMutation({
    mutationFn: (body: Omit<ChangeRunsBody, "runs">) =>
      post<ChangedRunsView>("/api/runs", { ...body, runs: chosen }),
    onSuccess: async ({ refused }) => {
      await client.invalidateQueries({ queryKey: queryKeys.runs });
      if (refused.length === 0) onDone();
    },
  });
  const isNone = chosen.length === 0;
  const button = (text: string, what: ChangeRunsBody["what"]) => (
    <Button
      size="xs"
      variant="outline"
      disabled={isNone}
      loading={change.isPending && change.variables.what === what}
      onClick={() => change.mutate({ what })}
    >
      {text}
    </Button>
  );
  return (
    <Box mb="2">
      <Flex
        gap="3"
        align="center"
        flexWrap="wrap"
        role="toolbar"
        aria-label="What is done to the chosen runs"
      >
        <Text className="figures" minW="76px">
          {count(chosen.length)} chosen
        </Text>
        {button("Stop after their frames", "stop")}
        {button("Stop now", "stop-now")}
        {button("Go on", "go-on")}
        <Box w="210px">
          <Select
            label="Priority of the chosen runs"
            value=""
            options={[
              ["", "priority"],
              ...[...PRIORITIES].reverse().map((p) => [String(p), PRIORITY_TEXT[p]] as const),
            ]}
            onChange={(text) =>
              text !== "" &&
              !isNone &&
              change.mutate({ what: "priority", priority: Number(text) as Priority })
            }
          />
        </Box>
      </Flex>
      {change.data?.refused.map(({ run, message }) => (
        <Refusal key={run}>
          Run {run}: {message}
        </Refusal>
      ))}
      {change.error !== null && <Refusal>{messageOf(change.error)}</Refusal>}
    </Box>
  );
}

/** All that goes on in one sentence. */
function Sentence({ open }: Pick<HouseRunsView, "open">) {
  const now = useNow();
  const left = open.reduce((sum, { run }) => sum + run.left, 0);
  const finishes = open.map(({ run }) => run.likelyFinish);
  const last = finishes.reduce<number | null>(
    (most, at) => (at === null ? most : Math.max(most ?? 0, at)),
    null,
  );
  if (open.length === 0) return <>Nothing goes on.</>;
  return (
    <>
      {count(open.length)} run{open.length === 1 ? " goes" : "s go"} on with {frames(left)} left
      {last === null || now === null
        ? "; when they are done cannot be told yet"
        : `, likely until ${clock(last, now)}${finishes.includes(null) ? " as far as one can tell" : ""}`}
      .
    </>
  );
}

/** Of both tables, so that they stand under one another. */
const COLUMNS = [
  ["", "32px"],
  ["Run", "84px"],
  ["Shot", "28%"],
  ["Made", "190px"],
  ["Does now", "auto"],
  ["Likely done", "110px"],
  ["Priority", "150px"],
] as const;

function Lines({
  lines,
  chosen,
  onChoose,
  label,
}: {
  readonly lines: readonly HouseRunView[];
  readonly chosen: ReadonlySet<number>;
  readonly onChoose: (next: ReadonlySet<number>) => void;
  readonly label: string;
}) {
  const pick = (id: number, isPicked: boolean): void => {
    const next = new Set(chosen);
    if (isPicked) next.add(id);
    else next.delete(id);
    onChoose(next);
  };
  return (
    <Table.Root size="sm" variant="line" aria-label={label}>
      <Table.Header>
        <Table.Row bg="transparent">
          {COLUMNS.map(([head, width], i) => (
            <Table.ColumnHeader
              key={i}
              w={width}
              color="softInk"
              fontWeight="400"
              {...(i === 0 ? { ps: "0" } : {})}
            >
              {head}
            </Table.ColumnHeader>
          ))}
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {lines.map((line) => (
          <Line
            key={line.run.id}
            line={line}
            isPicked={chosen.has(line.run.id)}
            onPick={(isPicked) => pick(line.run.id, isPicked)}
          />
        ))}
      </Table.Body>
    </Table.Root>
  );
}

function Runs({ open, ended }: HouseRunsView) {
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  // What has left the page meanwhile is not chosen any more.
  const there = [...open, ...ended].map(({ run }) => run.id).filter((id) => chosen.has(id));
  return (
    <Box as="main" px="6" pt="5" pb="12" maxW="1680px" mx="auto">
      <Heading as="h1" fontSize="xl" fontWeight="700">
        Runs
      </Heading>
      <Text mb="4" className="figures" data-testid="runs-sentence">
        <Sentence open={open} />
      </Text>
      {open.length + ended.length === 0 ? (
        <Text color="softInk">
          No run was started yet. A run begins on the page of a shot, at the bench Run.
        </Text>
      ) : (
        <Deeds chosen={there} onDone={() => setChosen(new Set())} />
      )}
      {open.length > 0 && <Lines label="Runs that go on" lines={open} chosen={chosen} onChoose={setChosen} />}
      {ended.length > 0 && (
        <>
          <Heading as="h2" fontSize="md" fontWeight="700" mt="7" mb="1">
            Stopped and done
          </Heading>
          <Lines label="Runs that ended" lines={ended} chosen={chosen} onChoose={setChosen} />
        </>
      )}
    </Box>
  );
}

export function RunsPage() {
  const { data, error } = useHouseRuns();
  return (
    <>
      <Header project={null} />
      {data === undefined && error === null && <Loading what="the runs" />}
      {data === undefined && error !== null && (
        <Trouble title="The runs cannot be shown" message={messageOf(error)} />
      )}
      {data !== undefined && <Runs {...data} />}
    </>
  );
}
