"use client";
/**
 * What follows from the plan as it stands: warnings with their mends first, then the figures.
 * Two columns of a bench are one thought: the left says what is wanted, this says what comes of it.
 * Everything is worked out from the draft, before it is saved.
 */
import { Box, Button, Flex, Table, Text } from "@chakra-ui/react";
import { useMemo } from "react";
import { intersection } from "@/core/frames/frame-set";
import { formatPhrase, shorten } from "@/core/frames/phrase";
import { FILE_FACTS, FILE_KINDS, DEFAULT_FILE, fileText } from "@/core/image/file-format";
import type { NameHazard } from "@/core/naming/hazards";
import { type Consequences, consequencesOf } from "@/core/plan/consequences";
import { retimeFrames } from "@/core/plan/scene-time";
import type { Plan } from "@/core/plan/plan";
import { parsePhrase } from "@/core/frames/phrase";
import { rateText } from "@/core/timing/rate";
import { canDrop } from "@/core/timing/time-code";
import { Caption, Line } from "../page/bench";
import { useShotWork, useSequenceNow } from "../shot/shot-context";
import { count, duration, frames, size } from "../words";
import type { GroupName } from "./groups";
import { MovePlayer } from "./move-player";
import { FILE_KIND_TEXT, hazardText, mendText, noteMend, noteText } from "../shot/plan-words";
import { isExternal } from "@/core/plan/renderer";
import { nameOfShot } from "../live/api";
import { useScene } from "../live/queries";
import { useStorage } from "../shot/use-storage";
import { guessPassBytes } from "@/core/plan/pass-bytes";
import { UNDERLINED } from "../theme/underlined";

/**
 * Worked out on the page at each key, by the same functions that the server decides with. Where the plan
 * cannot be read, its faults stand here instead: no figure of a plan before it.
 */
export function PlanConsequences({
  group,
  onOpen,
}: {
  /** The open one: files and moves have a picture of their own here. */
  readonly group: GroupName;
  /** Where a figure leads to the group that decides it. */
  readonly onOpen: (group: GroupName) => void;
}) {
  const {
    draft: { plan, read, faults },
    shot,
  } = useShotWork();
  const { files } = useSequenceNow();
  const scene = useScene(nameOfShot(shot), isExternal(plan) ? "" : plan.scene);
  const sceneRate = scene.data?.rate ?? null;
  const follows = useMemo(
    () =>
      read === null
        ? null
        : consequencesOf(read, {
            ...shot.namedAs,
            version: shot.sequence.version,
            purpose: shot.sequence.purpose,
            markers: shot.markers,
            files: files.index.set,
            sceneRate,
          }),
    [read, shot, files, sceneRate],
  );
  return (
    <>
      <Caption>What follows</Caption>
      {follows === null ? (
        Object.entries(faults).map(([field, fault]) => (
          <Text key={field} color="brick" py="1">
            {fault}
          </Text>
        ))
      ) : (
        <Warnings follows={follows} />
      )}
      {group === "files" && <FormatTable plan={plan} />}
      {group === "move" && plan.move !== null && read !== null && <MovePlayer read={read} />}
      {follows !== null && <Figures follows={follows} plan={plan} onOpen={onOpen} />}
    </>
  );
}

/** What is the matter, and the click that mends it where a program can. */
function Warning({
  text,
  mend,
}: {
  readonly text: string;
  /** Null where only a person can. */
  readonly mend: { readonly text: string; readonly apply: () => void } | null;
}) {
  return (
    <Flex justify="space-between" gap="4" py="1" {...UNDERLINED} align="center" role="alert">
      <Text color="ochre">{text}</Text>
      {mend !== null && (
        <Button size="xs" variant="outline" flexShrink={0} onClick={mend.apply}>
          {mend.text}
        </Button>
      )}
    </Flex>
  );
}

/** Hazards of names first: they cost files; notes cost time at most. */
function Warnings({ follows }: { readonly follows: Consequences }) {
  const {
    draft: { plan, change },
  } = useShotWork();
  return (
    <>
      {follows.hazards.map((hazard) => {
        const text = mendText(hazard);
        const edits = hazardMend(hazard, plan);
        return (
          <Warning
            key={`${hazard.code}${"token" in hazard ? hazard.token : ""}`}
            text={hazardText(hazard)}
            mend={text === null || edits === null ? null : { text, apply: () => change(edits) }}
          />
        );
      })}
      {follows.notes.map((note) => {
        const mend = noteMend(note);
        return (
          <Warning
            key={note.code}
            text={noteText(note)}
            mend={mend === null ? null : { text: mend.text, apply: () => change(mend.change) }}
          />
        );
      })}
    </>
  );
}

/**
 * The edits that take a hazard away; null where only a person can (a name that is too long, capitals that
 * clash).
 */
function hazardMend(hazard: NameHazard, plan: Plan): Partial<Plan> | null {
  if (!("mend" in hazard)) return null;
  if (hazard.code === "negative-numbers") {
    const offset = plan.offset + hazard.mend.offset;
    const asked = parsePhrase(plan.frames);
    return asked.ok
      ? { offset, frames: formatPhrase(retimeFrames(asked.set, plan, { ...plan, offset })) }
      : null;
  }
  return {
    ...("pattern" in hazard.mend && plan.namePattern.trim() !== ""
      ? { namePattern: hazard.mend.pattern }
      : {}),
    ...("digits" in hazard.mend ? { digits: hazard.mend.digits } : {}),
  };
}

/**
 * In the order in which somebody checks a plan before a night: what, when, how large, what it is called, what
 * is there.
 */
function Figures({
  follows,
  plan,
  onOpen,
}: {
  readonly follows: Consequences;
  readonly plan: Plan;
  readonly onOpen: (group: GroupName) => void;
}) {
  const { tally } = useSequenceNow();
  const need = useStorage(plan, follows.frames);
  const { there, leftOut } = follows;
  const [main] = follows.sequences;
  const others = follows.sequences.length - 1;
  return (
    <>
      <Line label="Renders">
        {plan.cameras.length === 1 ? "the camera " : "the cameras "}
        <b>{plan.cameras.join(", ")}</b> of {plan.scene}
        {plan.move === null ? "" : ", moved by the plan"}
      </Line>
      <Line label="Frames">
        {frames(follows.frames)}, {follows.first} to {follows.last}
      </Line>
      <Line label="Lasts">
        {duration(follows.seconds)} at {rateText(plan.rate)} a second, {follows.length}
        {canDrop(plan.rate) ? " drop-frame" : ""}
      </Line>
      <Line label="Pictures">
        {follows.width} x {follows.height}, {fileText(plan.file)}
      </Line>
      {main!.names.map((name, i) => (
        <Line key={i} label={["First file", "Middle file", "Last file"][i]}>
          <Box as="span" fontFamily="mono" data-testid={`name-${i}`}>
            {name}
          </Box>
        </Line>
      ))}
      {others > 0 && (
        <Line label={`and ${count(others)} more ${others === 1 ? "sequence" : "sequences"}`}>
          <Box as="span" fontFamily="mono" fontSize="xs">
            {follows.sequences
              .slice(1)
              .map((s) => s.names[0])
              .join(" ")}
          </Box>
        </Line>
      )}
      <Line label="On disk">
        about {size(need.total)} in all, {size((need.total - need.saved) / follows.frames)} a frame
        {need.saved > 0
          ? ` and ${size(need.saved)} of samples that are saved ${plan.keepSamples ? "and kept" : "while it goes"}`
          : ""}
        {need.parts.some((part) => !part.isMeasured) ? "; guessed from format and size" : ""}
      </Line>
      <Line label="There already">
        {there.count === 0 ? (
          "none of these frames"
        ) : (
          <>
            {frames(there.count)}:{" "}
            <Box as="span" fontFamily="mono">
              {shorten(formatPhrase(there))}
            </Box>
          </>
        )}
        {tally.results.good.count > 0 && there.count > 0
          ? `, ${intersection(there, tally.results.good).count} of them good`
          : ""}
      </Line>
      {leftOut.count > 0 && (
        <Line label="No longer asked for">
          <Box as="span" color="ochre">
            {frames(leftOut.count)}: {shorten(formatPhrase(leftOut))}; the files stay and count as extra
          </Box>
        </Line>
      )}
      <Line label="Time">
        <Button variant="plain" size="xs" onClick={() => onOpen("quality")}>
          {plan.timeLimit === null
            ? "samples decide it"
            : `samples decide it, and ${duration(plan.timeLimit)} a frame at most`}
        </Button>
        {plan.timeLimit === null
          ? ", the bench Prove measures it"
          : `: at most ${duration(follows.frames * plan.cameras.length * plan.timeLimit)} on one node`}
      </Line>
    </>
  );
}

/** The table of consequences: what each kind of file keeps, and how large it is. */
function FormatTable({ plan }: { readonly plan: Plan }) {
  return (
    <Table.Root
      size="sm"
      variant="line"
      mb="2"
      aria-label="Kinds of files"
      css={{ "& td, & th": { paddingInline: "4px", paddingBlock: "2px", background: "transparent" } }}
    >
      <Table.Header>
        <Table.Row bg="transparent">
          {["", "lossless", "alpha", "light", "a frame, about", "read by"].map((head) => (
            <Table.ColumnHeader key={head} fontSize="12px" color="softInk" fontWeight="400">
              {head}
            </Table.ColumnHeader>
          ))}
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {FILE_KINDS.map((kind) => {
          const file = kind === plan.file.kind ? plan.file : DEFAULT_FILE[kind];
          const facts = FILE_FACTS[kind];
          return (
            <Table.Row key={kind} bg="transparent" fontWeight={kind === plan.file.kind ? "700" : "400"}>
              <Table.Cell>{FILE_KIND_TEXT[kind]}</Table.Cell>
              <Table.Cell>{facts.isLossless ? "yes" : "no"}</Table.Cell>
              <Table.Cell>{facts.holdsAlpha ? "yes" : "no"}</Table.Cell>
              <Table.Cell>{facts.isLinear ? "linear" : "as shown"}</Table.Cell>
              <Table.Cell className="figures">
                {size(
                  guessPassBytes({ ...plan, file, alpha: facts.holdsAlpha ? plan.alpha : "none" }, "beauty"),
                )}
              </Table.Cell>
              <Table.Cell fontWeight="400">{facts.readers}</Table.Cell>
            </Table.Row>
          );
        })}
      </Table.Body>
    </Table.Root>
  );
}
