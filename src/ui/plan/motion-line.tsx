"use client";
/** Where nothing moves any more, or nothing is in sight, and the click that trims it. */
import { Button, Flex, Text } from "@chakra-ui/react";
import { difference, EMPTY, firstOf, type FrameSet, intersection, lastOf } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { isExternal } from "@/core/plan/renderer";
import { numbersOfStretch, sceneTime, type TimeLine } from "@/core/plan/scene-time";
import type { Plan } from "@/core/plan/plan";
import { messageOf, nameOfShot } from "../live/api";
import { useMotion } from "../live/queries";
import { useShotWork } from "../shot/shot-context";
import { Remark } from "../fields/fields";

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

/** What is cut is a click away, and nothing is by itself. */
export function MotionLine({
  set,
  write,
}: {
  readonly set: FrameSet;
  readonly write: (frames: FrameSet) => void;
}) {
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
