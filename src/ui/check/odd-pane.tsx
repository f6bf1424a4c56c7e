"use client";
/**
 * What the measures find odd, to be judged: the frame between its neighbours, why it is odd, and the list of all. A
 * judgement counts for the file that is there; the last one can be taken back.
 */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { JudgeBody, OddView } from "@/contract/odd-view";
import { setOf } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import type { OddCode } from "@/core/odd/odd";
import { Select } from "../fields/fields";
import { messageOf } from "../live/api";
import { Caption } from "../page/bench";
import { ReasonForm } from "../page/reason-form";
import { Refusal } from "../page/states";
import { useKeys } from "../page/use-keys";
import { usePointed, useSequenceNow, useShotWork } from "../shot/shot-context";
import { Tip } from "../theme/tip";
import { count } from "../words";
import { judgedGroups, namedOdd, type OddGroup, oddGroups, type OddOrder, orderedGroups } from "./odd-groups";
import { OddStrip } from "./odd-strip";
import { useJudge } from "./use-odd";
import { ODD_WORD } from "./words";
import { UNDERLINED } from "../theme/underlined";

/** More lines than a person reads at once; the band shows the rest. */
const SHOWN = 200;

const phraseOf = (groups: readonly OddGroup[]): string => formatPhrase(setOf(groups.map((g) => g.frame)));

/** @param hasKeys nothing lies over the page */
export function OddPane({ odd, hasKeys }: { readonly odd: OddView; readonly hasKeys: boolean }) {
  const { selection, focus } = usePointed();
  const [code, setCode] = useState<OddCode | "all">("all");
  const [order, setOrder] = useState<OddOrder>("frame");
  const [showsJudged, setShowsJudged] = useState(false);
  const groups = oddGroups(odd.odd);
  const open = groups.filter(({ state }) => state === "open");
  const judged = groups.length - open.length;
  const codes = [...new Set(odd.odd.map((one) => one.code))];
  const listed = orderedGroups(showsJudged ? groups : open, order, code);
  return (
    <Box mb="4" data-testid="odd">
      <Flex justify="space-between" align="baseline" gap="3">
        <Caption>
          {open.length === 0 ? "Nothing odd left to judge" : `${count(open.length)} odd to judge`}
        </Caption>
        <Flex gap="2" align="center">
          {judged > 0 && (
            <Button size="xs" variant="plain" onClick={() => setShowsJudged(!showsJudged)}>
              {showsJudged ? "Hide the judged ones" : `Show ${count(judged)} judged`}
            </Button>
          )}
          {groups.length > 1 && (
            <>
              <Select<OddCode | "all">
                label="Kind"
                value={code}
                onChange={setCode}
                options={[["all", "all kinds"], ...codes.map((one) => [one, ODD_WORD[one]] as const)]}
              />
              <Select<OddOrder>
                label="Order"
                value={order}
                onChange={setOrder}
                options={[
                  ["frame", "by frame"],
                  ["far", "farthest off first"],
                ]}
              />
            </>
          )}
        </Flex>
      </Flex>
      <Judge groups={judgedGroups(groups, selection.set, focus)} hasKeys={hasKeys} />
      {listed.slice(0, SHOWN).map((group) => (
        <OddRow key={group.frame} group={group} isMeant={group.frame === focus} />
      ))}
      {listed.length > SHOWN && (
        <Text color="softInk" pt="2">
          And {count(listed.length - SHOWN)} more.
        </Text>
      )}
    </Box>
  );
}

/** Pictures, reasons and buttons for what is pointed at; nothing where nothing of it is odd. */
function Judge({ groups, hasKeys }: { readonly groups: readonly OddGroup[]; readonly hasKeys: boolean }) {
  const { view } = useSequenceNow();
  const judge = useJudge(view.id);
  /** Frames that a reason is being asked for. */
  const [excusing, setExcusing] = useState<readonly OddGroup[] | null>(null);
  /** The last that were judged, so that it can be taken back. */
  const [last, setLast] = useState<readonly OddGroup[]>([]);
  const say = (judgement: JudgeBody["judgement"], of: readonly OddGroup[], why?: string): void =>
    judge.mutate(
      { judgement, of: namedOdd(of), ...(why === undefined ? {} : { why }) },
      {
        onSuccess: () => {
          setLast(judgement === "undo" ? [] : of);
          setExcusing(null);
        },
      },
    );
  const has = groups.length > 0;
  useKeys(
    {
      ...(has ? { a: () => say("accept", groups), d: () => setExcusing(groups) } : {}),
      ...(last.length > 0 ? { u: () => say("undo", last) } : {}),
    },
    hasKeys,
  );
  const [first] = groups;
  const which = groups.length === 1 ? "" : ` all ${count(groups.length)} selected`;
  return (
    <Box mb={has ? "3" : "0"}>
      {groups.length === 1 && first !== undefined && <OddStrip frame={first.frame} place={first.place} />}
      {groups.length === 1 &&
        first!.odd.map((one) => (
          <Text key={one.code} fontSize="sm">
            {one.sentence}
            {one.isAgain ? " It was made anew for this before: what causes it is still there." : ""}
          </Text>
        ))}
      <Flex gap="3" mt="1.5" align="center" flexWrap="wrap">
        {has && excusing === null && (
          <>
            <Tip text="It is a fault: flag it, with this reason and place (A)">
              <Button size="xs" loading={judge.isPending} onClick={() => say("accept", groups)}>
                Accept{which}
              </Button>
            </Tip>
            <Tip text="It is meant, or does not matter: say why (D)">
              <Button size="xs" variant="outline" onClick={() => setExcusing(groups)}>
                Dismiss{which}…
              </Button>
            </Tip>
          </>
        )}
        {last.length > 0 && excusing === null && (
          <Tip text="Take the last judgement back (U)">
            <Button size="xs" variant="plain" onClick={() => say("undo", last)}>
              Undo {phraseOf(last)}
            </Button>
          </Tip>
        )}
      </Flex>
      {excusing !== null && (
        <ReasonForm
          lead={`${excusing.length === 1 ? phraseOf(excusing) : `These ${count(excusing.length)}`} no fault, as`}
          action="Dismiss"
          label="Why it is no fault"
          isSending={judge.isPending}
          error={null}
          onSend={(why) => say("dismiss", excusing, why)}
          onLeave={() => setExcusing(null)}
        />
      )}
      {judge.error !== null && <Refusal>{messageOf(judge.error)}</Refusal>}
    </Box>
  );
}

const saidOf = ({ state, odd }: OddGroup): string => {
  const by = odd.find((one) => one.who !== null)?.who;
  const why = odd.find((one) => one.why !== null)?.why;
  return state === "open"
    ? ""
    : `${state}${by === undefined ? "" : ` by ${by}`}${why === undefined ? "" : `: ${why}`}`;
};

function OddRow({ group, isMeant }: { readonly group: OddGroup; readonly isMeant: boolean }) {
  const { setFocus, look } = useShotWork();
  return (
    <Flex
      gap="3"
      py="1"
      align="baseline"
      {...UNDERLINED}
      {...(isMeant ? { bg: "paper" } : {})}
      {...(group.state === "open" ? {} : { color: "softInk" })}
      data-testid="odd-line"
      data-state={group.state}
    >
      <Button variant="plain" size="xs" fontFamily="mono" onClick={() => setFocus(group.frame)}>
        {group.frame}
      </Button>
      <Box flex="1" minW="0" overflowWrap="anywhere">
        {group.odd.map((one) => ODD_WORD[one.code]).join(", ")}
      </Box>
      <Text color="softInk" fontSize="xs" overflowWrap="anywhere">
        {saidOf(group)}
      </Text>
      <Button
        variant="plain"
        size="xs"
        aria-label={`Look at ${group.frame}`}
        onClick={() => look(group.frame)}
      >
        Look
      </Button>
    </Flex>
  );
}
