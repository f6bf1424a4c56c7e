"use client";
/**
 * Which frames, at which rate: time line, stretches, motion, handles, step, offset, the edit.
 * Four numberings meet here: scene frames (the time line), numbers of files (scene frames plus the offset),
 * positions in the edit, and seconds. The phrase is in numbers of files; what comes in another numbering is
 * turned into them by core/plan before it is written.
 */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { EMPTY, firstOf, type FrameSet, lastOf, rangeSet, union } from "@/core/frames/frame-set";
import { formatPhrase, parsePhrase, rangePhrase, writtenRange } from "@/core/frames/phrase";
import { timeLineNumbers } from "@/core/plan/scene-time";
import { useShotWork } from "../shot/shot-context";
import { ordinal } from "../words";
import { EditUse } from "./edit-use";
import { MarkerEditor } from "./marker-editor";
import { MotionLine } from "./motion-line";
import { RateField } from "./rate-field";
import { SoundField } from "./sound-field";
import { Stretches } from "./stretches";
import { USUAL_HANDLES } from "@/core/edit/edit-use";
import { Meant } from "../fields/meant";
import { NumberInput, Select, TextField } from "../fields/fields";

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
  const [isEditing, setEditing] = useState(false);
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
        hint="1001-1096/2 is every second one; !1040-1050 takes away; 80s is a length; marker(dusk) a stretch"
      />
      <Meant text={plan.frames} isNumbersOnly onTake={(frames) => change({ frames })} />
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
      {shot.markers.length > 0 && <Stretches />}
      {isEditing ? (
        <MarkerEditor onDone={() => setEditing(false)} />
      ) : (
        <Box>
          <Button size="xs" variant="plain" onClick={() => setEditing(true)}>
            {shot.markers.length > 0
              ? "Change time line and stretches"
              : "Change the time line, name stretches"}
          </Button>
        </Box>
      )}
      <SoundField />
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
