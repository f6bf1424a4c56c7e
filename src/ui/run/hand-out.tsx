"use client";
/**
 * A fixed split over machines that are not connected: who gets what, and once it is handed out, what is back.
 */
import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import type { StartRunBody } from "@/contract/bodies";
import { EMPTY, type FrameSet, intersection } from "@/core/frames/frame-set";
import { isMachineName } from "@/core/naming/name";
import { formatPhrase, type NameResolver, parsePhrase } from "@/core/frames/phrase";
import { overlapOf, splitByRange, splitByStretches } from "@/core/run/split";
import { messageOf, post } from "../live/api";
import { useHandOut } from "../live/queries";
import { Loading, Refusal } from "../page/states";
import { useSequenceNow, useShotWork } from "../shot/shot-context";
import { Copy } from "../page/copy";
import { Tip } from "../theme/tip";
import { count, frames } from "../words";
import { queryKeys } from "../live/query-keys";
import type { HandOutView } from "@/contract/run-view";

/** As they are sent with the start: a machine and its phrase. */
export type Shares = NonNullable<StartRunBody["shares"]>;

/** The split that one begins with. */
export const firstShares = (toRender: FrameSet): Shares => evenly(["machine-1", "machine-2"], toRender);

/** A split to start from; every share can be written over. */
const evenly = (machines: readonly string[], toRender: FrameSet): Shares => {
  const parts = splitByRange(toRender, machines.length);
  return machines.map((machine, i) => ({ machine, phrase: formatPhrase(parts[i] ?? EMPTY) }));
};

/** What cannot be read is no frame yet: the field says what is wrong with it. */
const framesOf = (phrase: string, names: NameResolver): FrameSet => {
  const read = parsePhrase(phrase, names);
  return read.ok ? read.set : EMPTY;
};

/** As they go to the machines: what a name means now, in numbers. */
export const sharesInNumbers = (shares: Shares, names: NameResolver): Shares =>
  shares.map((share) => ({ ...share, phrase: formatPhrase(framesOf(share.phrase, names)) }));

/** What keeps the shares from being handed out; null when nothing does. The server looks again. */
export function shareFault(shares: Shares, toRender: FrameSet, names: NameResolver): string | null {
  const sets = shares.map((s) => intersection(framesOf(s.phrase, names), toRender));
  const wrong = shares.map(({ phrase }) => parsePhrase(phrase, names)).find((read) => !read.ok);
  if (shares.some((s) => !isMachineName(s.machine)))
    return "Each machine needs a name of letters, digits, - and _, such as desk-2.";
  if (new Set(shares.map((s) => s.machine)).size < shares.length) return "Two machines have one name.";
  if (wrong !== undefined && !wrong.ok) return wrong.error.message;
  const overlap = overlapOf(sets);
  if (overlap.count > 0) return `${formatPhrase(overlap)} would go to two machines.`;
  return sets.some((set) => set.count === 0) ? "One machine would get nothing that needs rendering." : null;
}

/** @param toRender what needs rendering of the chosen frames */
export function ShareFields({
  value,
  toRender,
  onChange,
}: {
  readonly value: Shares;
  readonly toRender: FrameSet;
  readonly onChange: (shares: Shares) => void;
}) {
  const { stretches } = useShotWork();
  const { names } = useSequenceNow();
  const machines = value.map((s) => s.machine);
  const named = Object.values(stretches).filter((set) => intersection(set, toRender).count > 0);
  const fault = toRender.count === 0 ? null : shareFault(value, toRender, names);
  const change = (at: number, to: Partial<Shares[number]>): void =>
    onChange(value.map((s, i) => (i === at ? { ...s, ...to } : s)));
  const byStretches = (): void =>
    onChange(
      splitByStretches(toRender, named).map((set, i) => ({
        machine: machines[i] ?? `machine-${i + 1}`,
        phrase: formatPhrase(set),
      })),
    );
  return (
    <Box mb="2.5" role="group" aria-label="Shares">
      {value.map((share, i) => (
        <Flex key={i} gap="2" mb="1" align="center">
          <Input
            size="xs"
            w="130px"
            fontFamily="mono"
            bg="paper"
            aria-label={`Machine ${i + 1}`}
            value={share.machine}
            onChange={(event) => change(i, { machine: event.target.value })}
          />
          <Input
            size="xs"
            flex="1"
            fontFamily="mono"
            bg="paper"
            aria-label={`Frames of machine ${i + 1}`}
            value={share.phrase}
            onChange={(event) => change(i, { phrase: event.target.value })}
          />
          <Text w="76px" textAlign="right" className="figures" flexShrink={0}>
            {frames(intersection(framesOf(share.phrase, names), toRender).count)}
          </Text>
          <Button
            size="2xs"
            variant="plain"
            aria-label={`Leave machine ${i + 1} out`}
            disabled={value.length === 1}
            onClick={() => onChange(value.filter((_, k) => k !== i))}
          >
            Leave out
          </Button>
        </Flex>
      ))}
      <Flex gap="4" mt="1.5" align="center" flexWrap="wrap">
        <Button
          size="xs"
          variant="plain"
          px="0"
          onClick={() => onChange(evenly([...machines, `machine-${value.length + 1}`], toRender))}
        >
          One machine more
        </Button>
        <Button size="xs" variant="plain" px="0" onClick={() => onChange(evenly(machines, toRender))}>
          Split evenly
        </Button>
        {named.length > 0 && (
          <Tip text="Each named stretch of the shot goes to a machine of its own">
            <Button size="xs" variant="plain" px="0" onClick={byStretches}>
              Split by markers
            </Button>
          </Tip>
        )}
      </Flex>
      {fault !== null && <Refusal>{fault}</Refusal>}
    </Box>
  );
}

/** What is with whom, what is back, and what each machine is told. */
export function HandOutPane({ runId, isOn }: { readonly runId: number; readonly isOn: boolean }) {
  const { data: handOut, error } = useHandOut(runId);
  if (handOut === undefined)
    return error === null ? (
      <Loading what="the hand-out" />
    ) : (
      <Refusal>The hand-out cannot be read now.</Refusal>
    );
  return (
    <Box data-testid="hand-out" className="figures">
      <Text mb="1">Take this folder to each machine: it holds the plan file and a copy of the scene.</Text>
      <Place label="Folder" path={handOut.folder} />
      {handOut.shares.map((share) => (
        <ShareLine key={share.machine} runId={runId} share={share} isOn={isOn} />
      ))}
      <Text mt="3" mb="1">
        Copy what they bring back into the version&#8217;s folder. It is seen there by itself, looked at, and
        taken in.
      </Text>
      <Place label="Back to" path={handOut.returnTo} />
    </Box>
  );
}

/** A path with a button that copies it: it is long, and typed wrong once at night. */
function Place({ label, path }: { readonly label: string; readonly path: string }) {
  return (
    <Flex gap="3" align="baseline">
      <Text w="56px" flexShrink={0} color="softInk">
        {label}
      </Text>
      <Box minW="0">
        <Box as="span" fontFamily="mono" fontSize="xs" overflowWrap="anywhere">
          {path}
        </Box>{" "}
        <Copy text={path} what={label} />
      </Box>
    </Flex>
  );
}

/** One machine: what it has, what it owes, and what to type there. */
function ShareLine({
  runId,
  share,
  isOn,
}: {
  readonly runId: number;
  readonly share: HandOutView["shares"][number];
  /** The run goes on: only then can a share be taken back. */
  readonly isOn: boolean;
}) {
  const client = useQueryClient();
  const takeBack = useMutation({
    mutationFn: () => post(`/api/runs/${runId}/hand-out/take-back`, { machine: share.machine }),
    onSettled: () => client.invalidateQueries({ queryKey: queryKeys.logs }),
  });
  const owes = !share.isTakenBack && share.back < share.count;
  return (
    <Box
      py="1.5"
      mt="1"
      borderTopWidth="1px"
      borderStyle="dotted"
      borderColor="rule"
      data-testid="share"
      data-machine={share.machine}
    >
      <Flex gap="4" align="baseline">
        <Text fontFamily="mono" fontWeight="700">
          {share.machine}
        </Text>
        <Text>
          {share.isTakenBack
            ? "taken back: its frames are free again"
            : share.back === share.count
              ? `all ${count(share.count)} are back`
              : `${count(share.back)} of ${count(share.count)} are back`}
        </Text>
        {owes && share.back > 0 && (
          <Text color="softInk">
            it owes{" "}
            <Box as="span" fontFamily="mono" fontSize="xs">
              {share.missing}
            </Box>
          </Text>
        )}
        {owes && isOn && (
          <Box ml="auto">
            <Tip text="What it has not brought back waits for it no more, and can be rendered here">
              <Button
                size="xs"
                variant="plain"
                loading={takeBack.isPending}
                onClick={() => takeBack.mutate()}
              >
                Take back
              </Button>
            </Tip>
          </Box>
        )}
      </Flex>
      {owes && (
        <Flex gap="2" align="baseline">
          <Box fontFamily="mono" fontSize="xs" overflowWrap="anywhere">
            {share.command}
          </Box>
          <Copy text={share.command} what={`call of ${share.machine}`} />
        </Flex>
      )}
      {takeBack.error !== null && <Refusal>{messageOf(takeBack.error)}</Refusal>}
    </Box>
  );
}
