"use client";
/** Everything that is left, tonight: what each shot lacks, what speaks against it, and one run a shot. */
import { Box, Button, Checkbox, Flex, Heading, Table, Text } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import NextLink from "next/link";
import { useState } from "react";
import { PRIORITIES, type Priority } from "@/contract/run-manner";
import { verdictOf } from "@/core/run/preflight";
import type { Policy } from "@/core/run/what-to-render";
import { versionName } from "@/core/plan/plan";
import { ClockInput } from "../fields/clock-input";
import { Select } from "../fields/fields";
import { shotPage } from "../live/api";
import { useProjects } from "../live/queries";
import { queryKeys } from "../live/query-keys";
import { Refusal } from "../page/states";
import { nextTimeOf, timeOfDay } from "../run/time-of-day";
import { pointText, PRIORITY_TEXT } from "../run/words";
import { hazardText, noteText } from "../shot/plan-words";
import { count, frames } from "../words";
import { type LeftShot, type LeftWish, useLeftOver } from "./use-left-over";

/** Of what is left: what has no picture, or also what is not good. */
const LEFT_POLICIES: readonly (readonly [Policy, string])[] = [
  ["fill", "what has no picture"],
  ["mend", "what has no picture, and what is flagged or stale"],
];

/** Everything of all shots, or of those of one project. */
const EVERYWHERE = "";

/** What speaks against it, the gravest first; nothing where it may start. */
const openPoints = ({ points }: LeftShot) =>
  (points ?? [])
    .map((point) => ({ point, verdict: verdictOf(point) }))
    .filter(({ verdict }) => verdict !== "fine")
    .sort((a, b) => Number(b.verdict === "stop") - Number(a.verdict === "stop"));

/** It was looked at, and something stops it. */
const isStopped = (left: LeftShot): boolean =>
  left.trouble !== null || openPoints(left).some(({ verdict }) => verdict === "stop");

const mayStart = (left: LeftShot): boolean => left.points !== null && !isStopped(left);

export function LeftOver({ onClose }: { readonly onClose: () => void }) {
  const client = useQueryClient();
  const projects = useProjects().data?.projects.filter((p) => !p.isArchived) ?? [];
  const [project, setProject] = useState(EVERYWHERE);
  const [wish, setWish] = useState<LeftWish>({ policy: "mend", startAt: null, priority: 0 });
  const [leftOut, setLeftOut] = useState<ReadonlySet<number>>(new Set());
  const { phase, shots, error, look, start, leave } = useLeftOver();
  const isBusy = phase === "looking" || phase === "starting";
  const looked = shots.filter((s) => s.points !== null || s.trouble !== null).length;
  const started = shots.filter((s) => s.run !== null);
  const ready = shots.filter((s) => mayStart(s) && s.run === null && !leftOut.has(s.shot.sequenceId));
  const sum = ready.reduce((all, s) => all + s.frames, 0);
  const change = (next: Partial<LeftWish>): void => {
    leave();
    setWish({ ...wish, ...next });
  };
  const begin = async (): Promise<void> => {
    await start(ready, wish);
    await client.invalidateQueries({ queryKey: queryKeys.runs });
  };
  return (
    <Box
      as="section"
      aria-label="Everything that is left"
      data-testid="left-over"
      borderWidth="1px"
      borderColor="rule"
      p="4"
      mb="5"
    >
      <Flex justify="space-between" align="baseline" mb="2">
        <Heading as="h2" fontSize="md" fontWeight="700">
          Everything that is left
        </Heading>
        <Button
          size="xs"
          variant="plain"
          onClick={() => {
            leave();
            onClose();
          }}
        >
          Close
        </Button>
      </Flex>
      <Flex gap="3" align="center" flexWrap="wrap" mb="2">
        <Box w="190px">
          <Select
            label="Of which project"
            value={project}
            options={[
              [EVERYWHERE, "of all projects"],
              ...projects.map((p) => [p.slug, `of ${p.title}`] as const),
            ]}
            onChange={(next) => {
              leave();
              setProject(next);
            }}
          />
        </Box>
        <Box w="370px">
          <Select<Policy>
            label="What of it"
            value={wish.policy}
            options={LEFT_POLICIES}
            onChange={(policy) => change({ policy })}
          />
        </Box>
        <Box w="190px">
          <Select
            label="Before other runs or after them"
            value={String(wish.priority)}
            options={[...PRIORITIES].reverse().map((p) => [String(p), PRIORITY_TEXT[p]])}
            onChange={(text) => change({ priority: Number(text) as Priority })}
          />
        </Box>
        <Text>begins at</Text>
        <ClockInput
          label="Begins at"
          isOptional
          value={timeOfDay(wish.startAt ?? null)}
          onChange={(text) => change({ startAt: nextTimeOf(text, Date.now()) })}
        />
        {isBusy ? (
          <Button size="sm" variant="outline" onClick={leave}>
            Leave it
          </Button>
        ) : (
          <Button
            size="sm"
            variant={phase === "looked" ? "outline" : "solid"}
            disabled={projects.length === 0}
            onClick={() => {
              setLeftOut(new Set());
              void look(project === EVERYWHERE ? projects.map((p) => p.slug) : [project], wish);
            }}
          >
            {phase === "none" ? "Look what is left" : "Look again"}
          </Button>
        )}
      </Flex>
      {error !== null && <Refusal>{error}</Refusal>}
      <Text role="status" className="figures" color="softInk" mb={shots.length > 0 ? "2" : "0"}>
        {phase === "none" &&
          "One run a shot, with what it lacks. Nothing starts before you have seen what speaks against it."}
        {phase === "looking" &&
          (shots.length === 0
            ? "Counting what is left."
            : `Nodes prove that they see the scenes and can write: ${count(looked)} of ${count(shots.length)} shots.`)}
        {phase === "looked" &&
          shots.length === 0 &&
          "Nothing is left: every frame that is asked for is there."}
        {phase === "starting" && `${count(started.length)} started.`}
        {phase === "started" &&
          `${count(started.length)} run${started.length === 1 ? "" : "s"} started${wish.startAt == null ? "" : `, from ${timeOfDay(wish.startAt)}`}.`}
      </Text>
      {shots.length > 0 && (
        <Table.Root size="sm" variant="line" aria-label="What is left">
          <Table.Body>
            {shots.map((left) => (
              <LeftLine
                key={left.shot.sequenceId}
                left={left}
                isIn={!leftOut.has(left.shot.sequenceId)}
                onIn={(isIn) => {
                  const next = new Set(leftOut);
                  if (isIn) next.delete(left.shot.sequenceId);
                  else next.add(left.shot.sequenceId);
                  setLeftOut(next);
                }}
              />
            ))}
          </Table.Body>
        </Table.Root>
      )}
      {phase === "looked" && shots.length > 0 && (
        <Button size="sm" mt="3" disabled={ready.length === 0} onClick={() => void begin()}>
          {ready.length === 0
            ? "Nothing of it can start"
            : `Start ${count(ready.length)} run${ready.length === 1 ? "" : "s"} with ${frames(sum)}${wish.startAt == null ? "" : ` at ${timeOfDay(wish.startAt)}`}`}
        </Button>
      )}
    </Box>
  );
}

/** A shot with what it lacks and what speaks against it. */
function LeftLine({
  left,
  isIn,
  onIn,
}: {
  readonly left: LeftShot;
  readonly isIn: boolean;
  readonly onIn: (isIn: boolean) => void;
}) {
  const { project, shot, run, trouble, points } = left;
  const against = openPoints(left);
  return (
    <Table.Row bg="transparent" aria-label={`${project} ${shot.code}`}>
      <Table.Cell ps="0" w="32px">
        <Checkbox.Root
          size="sm"
          // What is not looked at yet can be left out all the same, and stays so.
          checked={isIn && !isStopped(left)}
          disabled={isStopped(left) || run !== null}
          onCheckedChange={(details) => onIn(details.checked === true)}
        >
          <Checkbox.HiddenInput aria-label={`With ${shot.code} of ${project}`} />
          <Checkbox.Control />
        </Checkbox.Root>
      </Table.Cell>
      <Table.Cell w="30%">
        <Box asChild fontWeight="700" _hover={{ color: "petrol" }}>
          <NextLink href={`${shotPage({ project, code: shot.code })}?bench=run`}>{shot.code}</NextLink>
        </Box>{" "}
        <Box as="span" color="softInk">
          {versionName(shot)}, {project}
        </Box>
      </Table.Cell>
      <Table.Cell className="figures" w="120px" whiteSpace="nowrap">
        {frames(left.frames)}
      </Table.Cell>
      <Table.Cell>
        {run !== null && <Text>started as run {run}</Text>}
        {trouble !== null && <Text color="brick">{trouble}</Text>}
        {run === null &&
          against.map(({ point, verdict }, i) => (
            <Text key={i} color={verdict === "stop" ? "brick" : "ochre"}>
              {point.code === "note"
                ? noteText(point.note)
                : point.code === "hazard"
                  ? hazardText(point.hazard)
                  : pointText(point)}
            </Text>
          ))}
        {run === null && trouble === null && points !== null && against.length === 0 && (
          <Text color="softInk">nothing speaks against it</Text>
        )}
      </Table.Cell>
    </Table.Row>
  );
}
