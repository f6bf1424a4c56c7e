"use client";
/**
 * The shot's time line and its named stretches: written as text, taken from the band, from a table and back. They
 * are the shot's and not the plan's: saved at once for all versions, and undone as often as one likes.
 */
import { Box, Button, Flex, Grid, Input, Text, Textarea } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import type { ChangeShotBody } from "@/contract/project-bodies";
import type { ShotView } from "@/contract/shot-view";
import { firstOf, lastOf } from "@/core/frames/frame-set";
import {
  markerChange,
  readMarkers,
  withMarker,
  writeMarkers,
  writeMarkerTable,
} from "@/core/plan/marker-text";
import { sceneTime } from "@/core/plan/scene-time";
import { ApiFailure, messageOf, nameOfShot, patch, shotApi } from "../live/api";
import { TextLine } from "../page/field";
import { Refusal } from "../page/states";
import { saveText } from "../page/save-text";
import { usePointed, useShotWork } from "../shot/shot-context";
import { timeLineText } from "../shot/time-line-text";
import { listed } from "../words";

interface Written {
  readonly first: string;
  readonly last: string;
  readonly markers: string;
}

const isWhole = (text: string): boolean => /^-?\d{1,9}$/.test(text.trim());

const written = (shot: ShotView): Written => ({
  first: String(shot.first),
  last: String(shot.last),
  markers: writeMarkers(shot.markers),
});

/** What a save changes, in words; null for nothing. */
function changeText(shot: ShotView, { first, last, markers }: Written): string | null {
  const { added, removed, moved } = markerChange(shot.markers, readMarkers(markers).markers);
  const line = isWhole(first) && isWhole(last) ? timeLineText(shot, Number(first), Number(last)) : null;
  const parts = [
    ...(added.length > 0 ? [`new: ${listed(added)}`] : []),
    ...(moved.length > 0 ? [`lies elsewhere: ${listed(moved)}`] : []),
    ...(removed.length > 0 ? [`gone: ${listed(removed)}`] : []),
    ...(line === null ? [] : [line]),
  ];
  return parts.length === 0 ? null : parts.join("; ");
}

/** A table as lines; one with a wrong line stays as it is, so that the line can be mended where it stands. */
function asLines(text: string): string {
  const { markers, wrong } = readMarkers(text);
  return wrong.length > 0 ? text.trim() : writeMarkers(markers);
}

export function MarkerEditor({ onDone }: { readonly onDone: () => void }) {
  const { shot, draft } = useShotWork();
  const { selection } = usePointed();
  const client = useQueryClient();
  const [now, setNow] = useState<Written>(() => written(shot));
  /** What was there before each step, the newest last. */
  const [before, setBefore] = useState<readonly Written[]>([]);
  const [name, setName] = useState("");
  const names = useId();
  const step = (next: Written): void => {
    setBefore((steps) => [...steps, now]);
    setNow(next);
  };
  const save = useMutation({
    mutationFn: (wanted: Written) =>
      patch(shotApi(nameOfShot(shot)), {
        firstFrame: Number(wanted.first),
        lastFrame: Number(wanted.last),
        markers: readMarkers(wanted.markers).markers,
      } satisfies ChangeShotBody),
    onSuccess: () => client.invalidateQueries(),
  });
  const { markers, wrong } = readMarkers(now.markers);
  const faults = save.error instanceof ApiFailure ? save.error.faults : [];
  const faultOf = (field: string): string | undefined => faults.find((f) => f.field === field)?.message;
  const change = changeText(shot, now);
  const isSound = wrong.length === 0 && isWhole(now.first) && isWhole(now.last);
  const { set } = selection;
  const scene = (frame: number | null): number => Math.round(sceneTime(draft.plan, frame ?? 0));
  const stretch = `${scene(firstOf(set))}-${scene(lastOf(set))}`;
  /** The one of that name is moved there. */
  const isThere = markers.some((m) => m.name === name.trim());
  return (
    <Box role="group" aria-label="Time line and stretches" borderTopWidth="1px" borderColor="rule" pt="2">
      <Grid templateColumns="88px 88px 1fr" gap="3">
        <TextLine
          label="First frame"
          isMono
          value={now.first}
          fault={isWhole(now.first) ? faultOf("firstFrame") : "a whole number"}
          onChange={(first) => setNow({ ...now, first })}
        />
        <TextLine
          label="Last frame"
          isMono
          value={now.last}
          fault={isWhole(now.last) ? faultOf("lastFrame") : "a whole number"}
          onChange={(last) => setNow({ ...now, last })}
        />
        <Text alignSelf="end" color="softInk" fontSize="xs" pb="1">
          Numbers of the scene, both ends inclusive. They hold for all versions of the shot.
        </Text>
      </Grid>
      <Textarea
        mt="2"
        size="xs"
        rows={Math.min(8, Math.max(3, now.markers.split("\n").length + 1))}
        fontFamily="mono"
        bg="paper"
        aria-label="Stretches, a line each"
        placeholder={"dusk 90-120\nlamp lit 121-144"}
        value={now.markers}
        onChange={(event) => setNow({ ...now, markers: event.target.value })}
      />
      {wrong.map(({ line, message }) => (
        <Text key={line} color="brick" fontSize="xs" role="alert">
          Line {line}: {message}
        </Text>
      ))}
      {faultOf("markers") !== undefined && <Refusal>{faultOf("markers")}</Refusal>}
      <Flex gap="3" rowGap="1" mt="1.5" align="center" flexWrap="wrap">
        <Input
          size="xs"
          w="140px"
          bg="paper"
          aria-label="Name of a stretch"
          placeholder="a name, new or not"
          list={names}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <datalist id={names}>
          {markers.map((marker) => (
            <option key={marker.name} value={marker.name} />
          ))}
        </datalist>
        <Button
          size="xs"
          variant="plain"
          disabled={set.count === 0 || name.trim() === ""}
          onClick={() => {
            step({ ...now, markers: withMarker(now.markers, name.trim(), stretch) });
            setName("");
          }}
        >
          {isThere ? "moves to " : "for "}
          {set.count === 0 ? "what is selected on the band" : `${stretch}, as selected on the band`}
        </Button>
      </Flex>
      {change !== null && isSound && (
        <Text color="ochre" fontSize="xs" mt="1">
          {change}.
        </Text>
      )}
      <Flex gap="3" rowGap="1" mt="1.5" align="center" flexWrap="wrap">
        <Button
          size="xs"
          disabled={!isSound || change === null}
          loading={save.isPending}
          onClick={() => {
            // So that what was saved can be put back too.
            setBefore((steps) => [...steps, written(shot)]);
            save.mutate(now);
          }}
        >
          Save the stretches
        </Button>
        <Button
          size="xs"
          variant="plain"
          disabled={before.length === 0}
          onClick={() => {
            setNow(before.at(-1)!);
            setBefore(before.slice(0, -1));
          }}
        >
          Undo
        </Button>
        <Button size="xs" variant="plain" asChild>
          <label>
            Read a table
            <input
              type="file"
              accept=".csv,.txt,text/csv,text/plain"
              hidden
              aria-label="A table of stretches"
              onChange={(event) => {
                const [file] = event.target.files ?? [];
                event.target.value = "";
                if (file !== undefined)
                  void file.text().then((text) => step({ ...now, markers: asLines(text) }));
              }}
            />
          </label>
        </Button>
        <Button
          size="xs"
          variant="plain"
          disabled={markers.length === 0}
          onClick={() => saveText(`${shot.code}-stretches.csv`, writeMarkerTable(markers), "text/csv")}
        >
          Write a table
        </Button>
        <Button size="xs" variant="plain" onClick={onDone}>
          Close
        </Button>
      </Flex>
      {save.error !== null && faults.length === 0 && <Refusal>{messageOf(save.error)}</Refusal>}
    </Box>
  );
}
