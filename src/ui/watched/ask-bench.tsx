"use client";
/**
 * Run and Patch of frames that something else renders: exactly which ones are wanted, in the words of whoever renders
 * them. Nothing is started from here; what comes into the folder is seen by itself.
 */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { type ReactNode, useMemo } from "react";
import { difference, EMPTY, type FrameSet, intersection, setOf } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { nameInPlace } from "@/core/plan/watched";
import {
  type AskedSequence,
  askText,
  callLines,
  commaList,
  lineList,
  rangeList,
} from "@/core/run/ask-elsewhere";
import { framesToRender, type Policy } from "@/core/run/what-to-render";
import { versionName } from "@/core/plan/plan";
import { unpackTally } from "@/core/tally/packed";
import { Bench, Caption } from "../page/bench";
import { OneOf } from "../page/choices";
import { Copy } from "../page/copy";
import { saveText } from "../page/save-text";
import { usePointed, useSequenceNow, useShotWork } from "../shot/shot-context";
import { count, frames } from "../words";
import { RenderHere } from "./render-here";

export type AskScope = "fill" | "mend" | "selection";

/** More numbers than this are saved and not shown. */
const MOST_SHOWN = 2_000;

/** Sequences of the version with what of each is wanted. */
function useAsked(scope: AskScope): readonly AskedSequence[] {
  const { view, tally: ownTally } = useSequenceNow();
  const { selection } = usePointed();
  const { shot } = useShotWork();
  return useMemo(() => {
    const policy: Policy = scope === "fill" ? "fill" : "mend";
    // What somebody is at need not be asked for again.
    const wantedOf = (tally: typeof ownTally, set: FrameSet): FrameSet =>
      difference(framesToRender(tally, set, policy).toRender, tally.activities.rendering);
    return (shot.plan.watched?.sequences ?? []).map((s, i) => {
      const sibling = view.siblings.find((v) => v.camera === s.camera && v.pass === s.pass);
      const tally =
        sibling === undefined ? null : sibling.id === view.id ? ownTally : unpackTally(sibling.tally);
      const set =
        tally === null
          ? EMPTY
          : scope === "selection"
            ? sibling!.id === view.id
              ? intersection(selection.set, tally.asked)
              : EMPTY
            : wantedOf(tally, tally.asked);
      return {
        camera: s.camera,
        pass: s.pass,
        set,
        folder: shot.watchedFolders[i] ?? "",
        name: (frame: number) => nameInPlace(s.place, frame),
      };
    });
  }, [scope, view.siblings, view.id, ownTally, selection.set, shot.plan.watched, shot.watchedFolders]);
}

/** One way of writing it: shown as far as it is short, copied whole. */
function Written({
  label,
  text,
  note,
}: {
  readonly label: string;
  readonly text: string;
  readonly note?: ReactNode;
}) {
  const isLong = text.length > MOST_SHOWN;
  return (
    <Box borderTopWidth="1px" borderColor="rule" py="1.5" data-testid="ask">
      <Flex gap="3" align="baseline">
        <Text color="softInk" w="120px" flexShrink={0}>
          {label}
        </Text>
        <Box flex="1" minW="0">
          <Box
            as="pre"
            fontFamily="mono"
            fontSize="sm"
            whiteSpace="pre-wrap"
            overflowWrap="anywhere"
            maxH="84px"
            overflowY="auto"
          >
            {isLong ? `${text.slice(0, MOST_SHOWN)} …` : text}
          </Box>
          {note}
        </Box>
        <Copy text={text} what={label} />
      </Flex>
    </Box>
  );
}

export function AskBench({
  scope,
  onScope,
}: {
  readonly scope: AskScope;
  readonly onScope: (scope: AskScope) => void;
}) {
  const { shot } = useShotWork();
  const { view, tally } = useSequenceNow();
  const { selection } = usePointed();
  const asked = useAsked(scope);
  const own = asked.find((s) => s.camera === shot.sequence.camera && s.pass === shot.sequence.pass);
  const set = own?.set ?? EMPTY;
  const all = asked.reduce((sum, s) => sum + s.set.count, 0);
  const figure = (wanted: FrameSet, policy: Policy): string =>
    frames(difference(framesToRender(tally, wanted, policy).toRender, tally.activities.rendering).count);
  const claims = view.elsewhere?.claims.filter((c) => !c.isOver) ?? [];
  const values = {
    ...{ folder: own?.folder ?? "", project: shot.project.slug, shot: shot.code },
    ...{ version: versionName(shot.sequence), camera: shot.sequence.camera, pass: shot.sequence.pass },
  };
  const text = askText(values, shot.plan, asked);
  return (
    <Bench
      left={
        <>
          <Caption>These frames are rendered elsewhere. Which are wanted?</Caption>
          <OneOf<AskScope>
            label="Which are wanted"
            value={scope}
            onChange={onScope}
            options={[
              { key: "fill", text: "What is missing", figure: figure(tally.asked, "fill") },
              { key: "mend", text: "That, and what is flagged", figure: figure(tally.asked, "mend") },
              {
                key: "selection",
                text: "What is selected on the band",
                figure: frames(intersection(selection.set, tally.asked).count),
              },
            ]}
          />
          {claims.length > 0 && (
            <Text color="softInk" mb="2">
              Without {formatPhrase(setOf(claims.map((c) => c.frame)))}: somebody is at{" "}
              {claims.length === 1 ? "it" : "them"}.
            </Text>
          )}
          {asked.length > 1 && scope !== "selection" && (
            <Box className="figures" mb="2">
              {asked.map((s) => (
                <Flex key={`${s.camera} ${s.pass}`} gap="3" borderTopWidth="1px" borderColor="rule" py="0.5">
                  <Text w="160px" truncate>
                    {s.camera} {s.pass}
                  </Text>
                  <Text flex="1" fontFamily="mono" fontSize="xs" truncate>
                    {s.set.count === 0 ? "nothing" : formatPhrase(s.set)}
                  </Text>
                  <Text>{count(s.set.count)}</Text>
                </Flex>
              ))}
            </Box>
          )}
          <RenderHere />
        </>
      }
      foot={
        <Flex gap="4" align="center">
          <Button
            size="sm"
            disabled={all === 0}
            onClick={() => saveText(`${shot.code}_${values.version}_wanted.txt`, text)}
          >
            Save {frames(all)} as a text to send
          </Button>
          <Text color="softInk" fontSize="sm">
            With folder and file names{asked.length > 1 ? ", of all sequences" : ""}. Frames that come are
            seen by themselves.
          </Text>
        </Flex>
      }
      right={
        set.count === 0 ? (
          <Text color="softInk">
            {scope === "selection"
              ? "Select frames on the band."
              : `Nothing of ${shot.sequence.camera} ${shot.sequence.pass} is wanted.`}
          </Text>
        ) : (
          <>
            <Caption>
              {frames(set.count)} of {shot.sequence.camera} {shot.sequence.pass}, as it is asked for
            </Caption>
            <Written label="Phrase" text={formatPhrase(set)} />
            <Written label="Ranges" text={rangeList(set)} />
            <Written label="With commas" text={commaList(set)} />
            <Written label="One a line" text={lineList(set)} />
            {shot.calls.map((call) => (
              <Written key={call.name} label={call.name} text={callLines(call, set, values)} />
            ))}
            {shot.calls.length === 0 && (
              <Text fontSize="xs" color="softInk" mt="1.5">
                Calls of your own stand here once the configuration declares them under{" "}
                <Box as="span" fontFamily="mono">
                  calls
                </Box>
                .
              </Text>
            )}
          </>
        )
      }
    />
  );
}
