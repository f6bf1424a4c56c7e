"use client";
/**
 * A camera move for shots that have none, played roughly before anything is rendered.
 * Lengths are metres, angles degrees, y is up. A move has no clock of its own: it goes from the first to
 * the last frame that is asked for, and speed follows from both.
 */
import { Button, Flex } from "@chakra-ui/react";
import { parsePhrase } from "@/core/frames/phrase";
import { firstOf, lastOf } from "@/core/frames/frame-set";
import {
  type CameraMove,
  degreesAFrame,
  framesOfPath,
  framesOfTurn,
  pathLength,
  type PathMove,
  pathSpeed,
  type Point,
  type TurnMove,
} from "@/core/plan/camera-move";
import { durationSeconds } from "@/core/timing/rate";
import { nameOfShot } from "../live/api";
import { useScene } from "../live/queries";
import { PlanView } from "./plan-view";
import { useShotWork } from "../shot/shot-context";
import { duration } from "../words";
import { Entry, EntryGroup, NumberInput, Remark, Select, Toggle, Two } from "../fields/fields";

/** A turn as it starts out: once around the middle, at the height of an eye. */
const TURN: TurnMove = {
  kind: "turn",
  subject: [0, 1, 0],
  distance: 6,
  height: 1.5,
  direction: "clockwise",
  startAngle: 0,
  degrees: 360,
  isLoop: true,
  ease: "even",
};
/** A path as it starts out, past the middle. */
const PATH: PathMove = {
  kind: "path",
  points: [
    [-4, 2, 6],
    [0, 2, 5],
    [4, 2, 6],
  ],
  target: [0, 1, 0],
  ease: "eased",
};

/** Choosing none takes the move out of the plan; its values are not kept aside. */
export function MoveGroup() {
  const { plan, change } = useShotWork().draft;
  const set = (move: CameraMove | null): void => change({ move });
  return (
    <Flex direction="column" gap="2">
      <Entry field="move" label="The camera">
        <Select
          value={plan.move?.kind ?? "scene"}
          options={[
            ["scene", "moves as the scene says"],
            ["turn", "turns around a subject"],
            ["path", "moves along a path"],
          ]}
          onChange={(kind) => set(kind === "turn" ? TURN : kind === "path" ? PATH : null)}
        />
      </Entry>
      {plan.move?.kind === "turn" && <TurnFields move={plan.move} set={set} />}
      {plan.move?.kind === "path" && <PathFields move={plan.move} set={set} />}
      {plan.move === null && (
        <Remark>
          A move of the plan replaces that of the scene&apos;s camera and goes from the first to the last
          frame that is asked for.
        </Remark>
      )}
    </Flex>
  );
}

/**
 * A move's length is the plan's frames: changing it changes them, so that speed and length never contradict
 * one another.
 */
function useMoveFrames() {
  const { plan, change } = useShotWork().draft;
  const asked = parsePhrase(plan.frames);
  const first = asked.ok ? firstOf(asked.set) : null;
  const last = asked.ok ? lastOf(asked.set) : null;
  return {
    frames: first === null || last === null ? 1 : last - first + 1,
    rate: plan.rate,
    setFrames: (count: number) =>
      first !== null && count >= 1 && change({ frames: `${first}-${first + count - 1}` }),
  };
}

/** A place as three numbers; each keeps what was typed, also while it is none. */
function PointInputs({
  label,
  value,
  onChange,
}: {
  readonly label: string;
  readonly value: Point;
  readonly onChange: (point: Point) => void;
}) {
  return (
    <Flex gap="1.5" role="group" aria-label={label}>
      {(["x", "y", "z"] as const).map((axis, i) => (
        <NumberInput
          key={axis}
          label={`${label} ${axis}`}
          value={value[i]!}
          onChange={(v) => onChange([i === 0 ? v : value[0], i === 1 ? v : value[1], i === 2 ? v : value[2]])}
        />
      ))}
    </Flex>
  );
}

/** Even speed, or one that begins and ends slowly: only the way along the move differs, never its length. */
const Ease = ({
  ease,
  onChange,
}: {
  readonly ease: CameraMove["ease"];
  readonly onChange: (ease: CameraMove["ease"]) => void;
}) => (
  <Select
    label="Speed"
    value={ease}
    options={[
      ["even", "even speed"],
      ["eased", "slow start and end"],
    ]}
    onChange={onChange}
  />
);

/** Frames and degrees a frame are two sides of one length: typing either sets the other. */
function TurnFields({ move, set }: { readonly move: TurnMove; readonly set: (move: TurnMove) => void }) {
  const { frames, rate, setFrames } = useMoveFrames();
  const each = degreesAFrame(move, frames);
  return (
    <>
      <Two>
        <EntryGroup field="move" label="Subject x, y, z in metres">
          <PointInputs
            label="Subject"
            value={move.subject}
            onChange={(subject) => set({ ...move, subject })}
          />
        </EntryGroup>
        <EntryGroup field="move" label="Distance and height, metres">
          <Flex gap="1.5">
            <NumberInput
              label="Distance"
              value={move.distance}
              onChange={(distance) => set({ ...move, distance })}
            />
            <NumberInput label="Height" value={move.height} onChange={(height) => set({ ...move, height })} />
          </Flex>
        </EntryGroup>
      </Two>
      <Two>
        <EntryGroup field="move" label="Degrees in all, start angle">
          <Flex gap="1.5">
            <NumberInput
              label="Degrees in all"
              value={move.degrees}
              onChange={(degrees) => set({ ...move, degrees })}
            />
            <NumberInput
              label="Start angle"
              value={move.startAngle}
              onChange={(startAngle) => set({ ...move, startAngle })}
            />
          </Flex>
        </EntryGroup>
        <EntryGroup
          field="move"
          label="Frames, or degrees a frame"
          hint={`${duration(durationSeconds(frames, rate))} for the turn`}
        >
          <Flex gap="1.5">
            <NumberInput label="Frames of the turn" step={1} value={frames} onChange={setFrames} />
            <NumberInput
              label="Degrees a frame"
              value={Math.round(each * 1e4) / 1e4}
              onChange={(degrees) => degrees > 0 && setFrames(framesOfTurn(move, degrees))}
            />
          </Flex>
        </EntryGroup>
      </Two>
      <Two>
        <Select
          label="Direction"
          value={move.direction}
          options={[
            ["clockwise", "clockwise, seen from above"],
            ["anticlockwise", "anticlockwise"],
          ]}
          onChange={(direction) => set({ ...move, direction })}
        />
        <Ease ease={move.ease} onChange={(ease) => set({ ...move, ease })} />
      </Two>
      <Toggle isOn={move.isLoop} onChange={(isLoop) => set({ ...move, isLoop })}>
        Loop-safe: the last frame does not repeat the first
      </Toggle>
    </>
  );
}

/** Points in the order in which they are passed; two at least. */
function PointList({
  label,
  points,
  onChange,
}: {
  /** Before the number. */
  readonly label: string;
  readonly points: readonly Point[];
  readonly onChange: (points: readonly Point[]) => void;
}) {
  return (
    <Flex direction="column" gap="1" w="full">
      {points.map((point, i) => (
        <Flex key={i} gap="2" align="center">
          <PointInputs
            label={`${label} ${i + 1}`}
            value={point}
            onChange={(next) => onChange(points.map((p, at) => (at === i ? next : p)))}
          />
          <Button
            size="xs"
            variant="plain"
            disabled={points.length <= 2}
            onClick={() => onChange(points.filter((_, at) => at !== i))}
          >
            remove
          </Button>
        </Flex>
      ))}
      <Button
        size="xs"
        variant="plain"
        alignSelf="flex-start"
        onClick={() => onChange([...points, points.at(-1)!])}
      >
        Add a point
      </Button>
    </Flex>
  );
}

/** A path has two points at least; a new one begins where the last one is. */
function PathFields({ move, set }: { readonly move: PathMove; readonly set: (move: PathMove) => void }) {
  const { frames, rate, setFrames } = useMoveFrames();
  const { shot, draft } = useShotWork();
  const scene = useScene(nameOfShot(shot), draft.plan.scene);
  const { targetPath, ...toOnePoint } = move;
  return (
    <>
      {scene.data !== undefined && <PlanView move={move} footprints={scene.data.footprints} onMove={set} />}
      <EntryGroup field="move" label="Points of the path, x, y, z in metres">
        <PointList label="Point" points={move.points} onChange={(points) => set({ ...move, points })} />
      </EntryGroup>
      <Select
        label="What the camera looks at"
        value={targetPath === undefined ? "point" : "line"}
        options={[
          ["point", "looks at one point"],
          ["line", "looks along a line of its own"],
        ]}
        onChange={(kind) =>
          set(
            kind === "point"
              ? { ...toOnePoint, target: targetPath?.[0] ?? move.target }
              : { ...move, targetPath: [move.target, [move.target[0] + 1, move.target[1], move.target[2]]] },
          )
        }
      />
      {targetPath !== undefined && (
        <EntryGroup field="move" label="Points that it looks at, x, y, z">
          <PointList
            label="Looked at, point"
            points={targetPath}
            onChange={(points) => set({ ...move, targetPath: points })}
          />
        </EntryGroup>
      )}
      <Two>
        {targetPath === undefined && (
          <EntryGroup field="move" label="Looks at, x, y, z">
            <PointInputs label="Target" value={move.target} onChange={(target) => set({ ...move, target })} />
          </EntryGroup>
        )}
        <EntryGroup
          field="move"
          label="Frames, or metres a second"
          hint={`${pathLength(move).toFixed(2)} m, ${duration(durationSeconds(frames, rate))}`}
        >
          <Flex gap="1.5">
            <NumberInput label="Frames of the move" step={1} value={frames} onChange={setFrames} />
            <NumberInput
              label="Metres a second"
              value={Math.round(pathSpeed(move, frames, rate) * 1e3) / 1e3}
              onChange={(speed) => speed > 0 && setFrames(framesOfPath(move, speed, rate))}
            />
          </Flex>
        </EntryGroup>
      </Two>
      <Ease ease={move.ease} onChange={(ease) => set({ ...move, ease })} />
    </>
  );
}
