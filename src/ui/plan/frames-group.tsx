"use client";
/**
 * Which frames, at which rate: time line, stretches, motion, handles, step, offset, the edit.
 * Four numberings meet here: scene frames (the time line), numbers of files (scene frames plus the offset),
 * positions in the edit, and seconds. The phrase is in numbers of files; what comes in another numbering is
 * turned into them by core/plan before it is written.
 */
import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import {
  difference,
  EMPTY,
  firstOf,
  type FrameSet,
  intersection,
  lastOf,
  rangeSet,
  union,
  unionAll,
} from "@/core/frames/frame-set";
import { formatPhrase, parsePhrase, rangePhrase, writtenRange } from "@/core/frames/phrase";
import { newlyUsed, withHandles } from "@/core/edit/edit-use";
import { isSameRate, parseRate, type Rate, rateText, TRADE_RATES } from "@/core/timing/rate";
import { isExternal } from "@/core/plan/renderer";
import {
  numbersOfStretch,
  retimePhrase,
  sceneTime,
  type TimeLine,
  timeLineNumbers,
} from "@/core/plan/scene-time";
import type { Plan } from "@/core/plan/plan";
import { markerSets } from "@/core/tally/names";
import type { ImportedEdit } from "@/contract/shot-view";
import { messageOf, post, nameOfShot } from "../live/api";
import { useMotion } from "../live/queries";
import { Refusal } from "../page/states";
import { useShotWork, useSequenceNow } from "../shot/shot-context";
import { count, ordinal } from "../words";
import { Entry, EntryGroup, NumberInput, Remark, Select, TextField, Toggle, Two } from "../fields/fields";

/** Frames that a cutter asks for most often. */
const USUAL_HANDLES = 8;
/** For roughs and proofs; another step that the phrase holds is offered as well. */
const STEPS = [1, 2, 4, 8] as const;

/**
 * Buttons write into the phrase, and the phrase is what counts: what somebody typed and what was clicked are
 * one thing.
 */
export function FramesGroup() {
  const {
    draft: { plan, change },
    shot,
  } = useShotWork();
  const asked = parsePhrase(plan.frames);
  const set = asked.ok ? asked.set : EMPTY;
  const line = timeLineNumbers(plan);
  const write = (frames: FrameSet): void => change({ frames: formatPhrase(frames) });
  const [first, last] = [firstOf(set), lastOf(set)];
  // Several stretches have no step of their own: the field then reads "every frame".
  const step = set.runs.length === 1 ? set.runs[0]!.step : 1;
  const stepped = (n: number): void => {
    // The range that was written stays beside the step: every 4th and back must not lose the tail.
    const range = writtenRange(plan.frames) ?? (first === null || last === null ? null : { first, last });
    if (range !== null) change({ frames: rangePhrase({ ...range, step: n }) });
  };
  return (
    <Flex direction="column" gap="2">
      <TextField
        field="frames"
        label="Frames, as numbers of the files"
        hint="1001-1096/2 is every second one; !1040-1050 takes away"
      />
      <Flex gap="3" rowGap="1" flexWrap="wrap" align="center">
        <Button size="xs" variant="plain" onClick={() => write(rangeSet(line.first, line.last))}>
          Whole time line, {line.first}-{line.last}
        </Button>
        <Flex align="center" gap="1.5">
          <Text color="softInk" fontSize="xs">
            Step
          </Text>
          <Select
            label="Step"
            value={String(step)}
            options={[...STEPS, ...(STEPS.some((s) => s === step) ? [] : [step])].map(
              (s) => [String(s), s === 1 ? "every frame" : `every ${ordinal(s)}`] as const,
            )}
            onChange={(next) => stepped(Number(next))}
          />
        </Flex>
        <Handles
          onAdd={(before, after) =>
            first !== null && last !== null && write(union(set, rangeSet(first - before, last + after)))
          }
        />
      </Flex>
      <MotionLine set={set} write={write} />
      {shot.markers.length > 0 && <Markers />}
      <RateField />
      <EditUse write={write} />
    </Flex>
  );
}

/** Frames before and behind, for whoever cuts the shot. */
function Handles({ onAdd }: { readonly onAdd: (before: number, after: number) => void }) {
  const [handles, setHandles] = useState(USUAL_HANDLES);
  const isWrong = !Number.isInteger(handles) || handles < 1 || handles > 10_000;
  return (
    <Flex align="center" gap="1.5">
      <Text color="softInk" fontSize="xs">
        Handles
      </Text>
      <Box w="64px">
        <NumberInput label="Handles, frames" step={1} value={handles} onChange={setHandles} />
      </Box>
      <Button size="xs" variant="plain" disabled={isWrong} onClick={() => onAdd(handles, 0)}>
        before
      </Button>
      <Button size="xs" variant="plain" disabled={isWrong} onClick={() => onAdd(0, handles)}>
        after
      </Button>
    </Flex>
  );
}

/** The time line, and what is asked for beside it: a scene may be numbered otherwise than its shot. */
function withAsked(plan: Plan, set: FrameSet): TimeLine {
  const [first, last] = [firstOf(set), lastOf(set)];
  const { timeLine } = plan;
  if (first === null || last === null) return timeLine;
  return {
    ...timeLine,
    first: Math.min(timeLine.first, Math.floor(sceneTime(plan, first))),
    last: Math.max(timeLine.last, Math.ceil(sceneTime(plan, last))),
  };
}

/** Where nothing moves any more, or nothing is in sight, and the click that trims it. */
function MotionLine({ set, write }: { readonly set: FrameSet; readonly write: (frames: FrameSet) => void }) {
  const {
    draft: { plan },
    shot,
  } = useShotWork();
  const camera = plan.cameras[0];
  const motion = useMotion(
    nameOfShot(shot),
    { scene: plan.scene, timeLine: withAsked(plan, set) },
    isExternal(plan) ? undefined : camera,
  );
  // Of a renderer's own scene nobody here knows how it moves.
  if (plan.move !== null || camera === undefined || isExternal(plan)) return null;
  if (motion.data === undefined)
    return (
      <Remark>
        {motion.error === null
          ? "Looking for where the motion ends."
          : `Where the motion ends cannot be told: ${messageOf(motion.error)}`}
      </Remark>
    );
  const { movesUntil, emptyFrom } = motion.data;
  const after = (sceneFrame: number): FrameSet =>
    intersection(set, numbersOfStretch(plan, sceneFrame, withAsked(plan, set).last));
  const still = movesUntil === null ? EMPTY : after(movesUntil + 1);
  const empty = emptyFrom === null ? EMPTY : after(emptyFrom);
  return (
    <>
      {empty.count > 0 && (
        <Trim
          text={`Empty from ${firstOf(empty)} on: only sky is in sight.`}
          cut={empty}
          set={set}
          write={write}
        />
      )}
      {empty.count === 0 && still.count > 0 && (
        <Trim
          text={`Nothing moves after ${firstOf(still)! - 1}; frames ${formatPhrase(still)} repeat one picture.`}
          cut={still}
          set={set}
          write={write}
        />
      )}
      {empty.count === 0 && still.count === 0 && (
        <Remark>
          {movesUntil === null
            ? "Something moves to the end of the time line."
            : "Something moves in every frame that is asked for."}
        </Remark>
      )}
    </>
  );
}

/** What would be cut and the click that cuts it: nothing is taken away by itself. */
function Trim({
  text,
  cut,
  set,
  write,
}: {
  readonly text: string;
  /** Frames that would go. */
  readonly cut: FrameSet;
  /** Of these. */
  readonly set: FrameSet;
  readonly write: (frames: FrameSet) => void;
}) {
  const kept = difference(set, cut);
  return (
    <Flex gap="3" align="center" role="status">
      <Text color="ochre" fontSize="xs">
        {text}
      </Text>
      {kept.count > 0 && (
        <Button size="xs" variant="outline" flexShrink={0} onClick={() => write(kept)}>
          Trim to {lastOf(kept)}
        </Button>
      )}
    </Flex>
  );
}

/** Named stretches, on or off: what is off is taken out of the frames, and named before every start. */
function Markers() {
  const {
    draft: { plan, change },
    shot,
  } = useShotWork();
  const asked = parsePhrase(plan.frames);
  const sets = markerSets(shot.markers, plan);
  const toggle = (name: string, isOn: boolean): void => {
    const set = asked.ok ? asked.set : EMPTY;
    // Stretches may overlap: frames that another stretch still wants stay.
    const others = unionAll(
      shot.markers
        .filter((m) => m.name !== name && !plan.markersOff.includes(m.name))
        .map((m) => sets[m.name]!),
    );
    const next = isOn ? union(set, sets[name]!) : difference(set, difference(sets[name]!, others));
    change({
      frames: next.count === 0 ? plan.frames : formatPhrase(next),
      markersOff: isOn ? plan.markersOff.filter((n) => n !== name) : [...plan.markersOff, name],
    });
  };
  // Ticked is what is asked for, however it came about: a phrase that was typed may leave a stretch out.
  const isWanted = (name: string): boolean =>
    !plan.markersOff.includes(name) &&
    (!asked.ok || sets[name]!.count === 0 || intersection(asked.set, sets[name]!).count > 0);
  return (
    <EntryGroup field="markersOff" label="Stretches">
      <Flex gap="4" rowGap="1" flexWrap="wrap">
        {shot.markers.map((marker) => (
          <Flex key={marker.name} gap="1" align="center">
            <Toggle isOn={isWanted(marker.name)} onChange={(isOn) => toggle(marker.name, isOn)}>
              {marker.name}{" "}
              <Box as="span" fontFamily="mono" fontSize="xs" color="softInk">
                {formatPhrase(sets[marker.name]!)}
              </Box>
            </Toggle>
            <Button
              size="xs"
              variant="plain"
              onClick={() =>
                change({
                  frames: formatPhrase(sets[marker.name]!),
                  markersOff: shot.markers.map((m) => m.name).filter((n) => n !== marker.name),
                })
              }
            >
              only
            </Button>
          </Flex>
        ))}
      </Flex>
    </EntryGroup>
  );
}

/**
 * The rate keeps the duration: the frames are counted anew. The offset keeps the scene frames: the files are
 * numbered anew.
 */
function RateField() {
  const {
    draft: { plan, change },
  } = useShotWork();
  const [typed, setTyped] = useState<string | null>(null);
  const retime = (rate: Rate): void =>
    change({
      rate,
      frames: retimePhrase(plan.frames, plan, { ...plan, rate }),
    });
  const known = TRADE_RATES.find((rate) => isSameRate(rate, plan.rate));
  const isWrong = typed !== null && parseRate(typed) === null;
  return (
    <Two>
      <EntryGroup
        field="rate"
        label="Frames a second"
        hint={
          isWrong ? (
            <Box
              as="span"
              color="brick"
              role="alert"
            >{`"${typed}" is no frame rate; write 24, 23.976 or a fraction such as 24000/1001.`}</Box>
          ) : isSameRate(plan.rate, plan.timeLine.rate) ? (
            "the scene's own rate"
          ) : (
            `the scene has ${rateText(plan.timeLine.rate)}: the duration stays, times between frames are rendered`
          )
        }
      >
        <Flex gap="2" w="full">
          <Select
            label="Frames a second"
            value={known === undefined || typed !== null ? "free" : rateText(known)}
            options={[
              ...TRADE_RATES.map((rate) => [rateText(rate), rateText(rate)] as const),
              ["free", "another"],
            ]}
            onChange={(next) => {
              const rate = parseRate(next);
              if (rate === null) setTyped(rateText(plan.rate));
              else {
                setTyped(null);
                retime(rate);
              }
            }}
          />
          {(typed !== null || known === undefined) && (
            <Input
              size="xs"
              fontSize="sm"
              fontFamily="mono"
              bg="paper"
              aria-label="Another rate"
              value={typed ?? rateText(plan.rate)}
              onChange={(event) => {
                setTyped(event.target.value);
                const rate = parseRate(event.target.value);
                if (rate !== null) retime(rate);
              }}
            />
          )}
        </Flex>
      </EntryGroup>
      <Entry
        field="offset"
        label="Offset: file number less scene frame"
        hint={
          plan.offset === 0
            ? undefined
            : `scene ${plan.timeLine.first} is file ${plan.timeLine.first + plan.offset}`
        }
      >
        <NumberInput
          step={1}
          value={plan.offset}
          onChange={(offset) =>
            change({
              offset,
              ...(Number.isInteger(offset) && Number.isInteger(plan.offset)
                ? { frames: retimePhrase(plan.frames, plan, { ...plan, offset }) }
                : {}),
            })
          }
        />
      </Entry>
    </Two>
  );
}

/** What the edit shows of this shot; a list is read here for all shots of the project. */
function EditUse({ write }: { readonly write: (frames: FrameSet) => void }) {
  const {
    shot,
    used,
    draft: { plan },
  } = useShotWork();
  const { tally } = useSequenceNow();
  const client = useQueryClient();
  const [handles, setHandles] = useState(USUAL_HANDLES);
  const read = useMutation({
    mutationFn: async (file: File) =>
      post<ImportedEdit>(`/api/projects/${encodeURIComponent(shot.project.slug)}/edits`, {
        name: file.name,
        text: await file.text(),
      }),
    // A list is of all shots of the project: whatever is shown may have changed.
    onSuccess: () => client.invalidateQueries(),
  });
  const fresh = shot.edit === null ? EMPTY : newlyUsed(shot.edit, plan);
  const missing = difference(fresh, tally.results.good);
  const fits = Number.isInteger(handles) && handles >= 0 && handles <= 10_000;
  return (
    <EntryGroup field="frames" label="What the edit uses">
      <Flex gap="3" rowGap="1" flexWrap="wrap" align="center">
        {shot.edit === null ? (
          <Text color="softInk" fontSize="xs">
            No edit has been read.
          </Text>
        ) : (
          <>
            <Text fontSize="xs">
              <b>{shot.edit.editName}</b>:{" "}
              {used === null || used.count === 0 ? "nothing of this shot" : <code>{formatPhrase(used)}</code>}
            </Text>
            {used !== null && used.count > 0 && (
              <Flex align="center" gap="1.5">
                <Button
                  size="xs"
                  variant="outline"
                  disabled={!fits}
                  onClick={() => write(withHandles(used, handles, plan))}
                >
                  Plan used +
                </Button>
                <Box w="60px">
                  <NumberInput
                    label="Handles around the edit"
                    step={1}
                    value={handles}
                    onChange={setHandles}
                  />
                </Box>
              </Flex>
            )}
          </>
        )}
        <Button asChild size="xs" variant="plain">
          <label>
            Read an edit (.edl, .otio)
            <input
              type="file"
              accept=".edl,.otio,.json,.txt"
              hidden
              onChange={(event) => {
                const file = event.target.files?.[0];
                event.target.value = "";
                if (file !== undefined) read.mutate(file);
              }}
            />
          </label>
        </Button>
      </Flex>
      {fresh.count > 0 && (
        <Text color="ochre" fontSize="xs" role="status">
          New in this edit: {formatPhrase(fresh)}
          {missing.count === 0
            ? ", all there"
            : missing.count === fresh.count
              ? ", none of it there yet"
              : `; ${formatPhrase(missing)} not there yet`}
          .
        </Text>
      )}
      {read.data !== undefined && (
        <Text fontSize="xs" color="softInk" role="status">
          {count(read.data.matched)} {read.data.matched === 1 ? "clip" : "clips"} of {count(read.data.shots)}{" "}
          {read.data.shots === 1 ? "shot" : "shots"} found
          {read.data.unmatched.length > 0 ? `; no shot is called ${read.data.unmatched.join(", ")}` : ""}.
        </Text>
      )}
      {read.error !== null && <Refusal>{messageOf(read.error)}</Refusal>}
    </EntryGroup>
  );
}
