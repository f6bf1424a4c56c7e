"use client";
/** Runs line by line: what each does now, and when it is likely done; those that go on can be put into another order. */
import { Box, Checkbox, IconButton, Table, Text } from "@chakra-ui/react";
import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  type UniqueIdentifier,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { GripVertical } from "lucide-react";
import NextLink from "next/link";
import type { CSSProperties, ReactNode } from "react";
import type { HouseRunView } from "@/contract/runs-view";
import { standstillOf } from "@/core/run/standstill";
import { shotPage } from "../live/api";
import { useLive } from "../live/live-store";
import { useNow } from "../page/header";
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

interface LineProps {
  readonly line: HouseRunView;
  readonly isPicked: boolean;
  readonly onPick: (isPicked: boolean) => void;
}

/** @param carry where the line can be taken and moved: its row, its place on the way, and its handle */
function Line({
  line: { project, shot, title, run },
  isPicked,
  onPick,
  carry,
}: LineProps & {
  readonly carry?: {
    readonly row: (element: HTMLTableRowElement | null) => void;
    readonly style: CSSProperties;
    readonly handle: ReactNode;
  };
}) {
  return (
    <Table.Row bg="transparent" aria-label={`Run ${run.id}`} ref={carry?.row} style={carry?.style}>
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
      <Table.Cell whiteSpace="nowrap">
        Run {run.id} {carry?.handle}
      </Table.Cell>
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

/** A line that is dragged, or taken with the space bar and moved with the arrows. */
function MovableLine(props: LineProps) {
  const { id } = props.line.run;
  const { setNodeRef, attributes, listeners, transform, transition, isDragging } = useSortable({ id });
  return (
    <Line
      {...props}
      carry={{
        row: setNodeRef,
        style: {
          transform: CSS.Translate.toString(transform),
          transition,
          ...(isDragging ? { opacity: 0.6, position: "relative", zIndex: 1 } : {}),
        },
        handle: (
          <IconButton
            size="2xs"
            variant="ghost"
            cursor="grab"
            verticalAlign="middle"
            touchAction="none"
            {...attributes}
            {...listeners}
            aria-label={`Move run ${id}`}
          >
            <GripVertical size={14} />
          </IconButton>
        ),
      }}
    />
  );
}

/** Lets lines be carried to another place; what is said of it is heard, too. */
function Sorting({
  ids,
  onMove,
  children,
}: {
  readonly ids: readonly number[];
  readonly onMove: (run: number, before: number | null) => void;
  readonly children: ReactNode;
}) {
  const sensors = useSensors(
    // A click is none: a line moves once it is drawn so far.
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const place = (id: UniqueIdentifier | undefined): string =>
    id === undefined ? "its place" : `place ${ids.indexOf(Number(id)) + 1} of ${ids.length}`;
  const end = ({ active, over }: DragEndEvent): void => {
    if (over === null || active.id === over.id) return;
    const [from, to] = [ids.indexOf(Number(active.id)), ids.indexOf(Number(over.id))];
    // Carried down it comes behind the one that it lies over.
    onMove(Number(active.id), ids[from < to ? to + 1 : to] ?? null);
  };
  return (
    <DndContext
      // Its own would be another one on the server than in the browser.
      id="runs"
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={end}
      accessibility={{
        screenReaderInstructions: {
          draggable: "Space takes the run, the arrows move it, Space puts it down, Escape leaves it.",
        },
        announcements: {
          onDragStart: ({ active }) => `Run ${active.id} is taken, ${place(active.id)}.`,
          onDragOver: ({ active, over }) => `Run ${active.id} is over ${place(over?.id)}.`,
          onDragEnd: ({ active, over }) => `Run ${active.id} is put at ${place(over?.id)}.`,
          onDragCancel: ({ active }) => `Run ${active.id} stays where it was.`,
        },
      }}
    >
      <SortableContext items={[...ids]} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  );
}

/** Of both tables, so that they stand under one another. */
const COLUMNS = [
  ["", "32px"],
  ["Run", "104px"],
  ["Shot", "28%"],
  ["Made", "190px"],
  ["Does now", "auto"],
  ["Likely done", "110px"],
  ["Priority", "150px"],
] as const;

export function RunLines({
  lines,
  chosen,
  onChoose,
  onMove,
  label,
}: {
  readonly lines: readonly HouseRunView[];
  readonly chosen: ReadonlySet<number>;
  readonly onChoose: (next: ReadonlySet<number>) => void;
  /** Where their order can be changed: the run, and the one that it is put before; null: the end. */
  readonly onMove?: (run: number, before: number | null) => void;
  readonly label: string;
}) {
  const OneLine = onMove === undefined ? Line : MovableLine;
  const pick = (id: number, isPicked: boolean): void => {
    const next = new Set(chosen);
    if (isPicked) next.add(id);
    else next.delete(id);
    onChoose(next);
  };
  const table = (
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
          <OneLine
            key={line.run.id}
            line={line}
            isPicked={chosen.has(line.run.id)}
            onPick={(isPicked) => pick(line.run.id, isPicked)}
          />
        ))}
      </Table.Body>
    </Table.Root>
  );
  return onMove === undefined ? (
    table
  ) : (
    <Sorting ids={lines.map(({ run }) => run.id)} onMove={onMove}>
      {table}
    </Sorting>
  );
}
