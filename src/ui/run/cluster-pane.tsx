"use client";
/** A run with a batch system: how it is sent there, how it stands, and how it is taken back. */
import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import type { ClusterView, ClusterWish, DispatchView } from "@/contract/cluster";
import type { RunView } from "@/contract/run-view";
import { messageOf, post, remove } from "../live/api";
import { useCluster } from "../live/queries";
import { Line } from "../page/bench";
import { Labelled, TextLine } from "../page/field";
import { Select } from "../fields/fields";
import { Loading, Refusal } from "../page/states";
import { count, frames, listed } from "../words";

/** As it is typed; blank is as the batch system has it. */
interface Typed {
  readonly frames: string;
  readonly partition: string;
  readonly minutes: string;
  readonly memoryMb: string;
}
const BLANK: Typed = { frames: "", partition: "", minutes: "", memoryMb: "" };

/** Null: a number that is none. */
function wishOf(typed: Typed): ClusterWish | null {
  const number = (text: string): number | null => (text.trim() === "" ? null : Number(text));
  const [minutes, memoryMb] = [number(typed.minutes), number(typed.memoryMb)];
  if ([minutes, memoryMb].some((n) => n !== null && (!Number.isInteger(n) || n < 1))) return null;
  return {
    frames: typed.frames.trim() === "" ? null : typed.frames.trim(),
    partition: typed.partition === "" ? null : typed.partition,
    ...{ minutes, memoryMb },
  };
}

const isWrong = (text: string): boolean => text.trim() !== "" && !/^\s*[1-9]\d*\s*$/.test(text);

function SendForm({ run, cluster }: { readonly run: RunView; readonly cluster: ClusterView }) {
  const [typed, setTyped] = useState(BLANK);
  const send = useMutation({ mutationFn: (wish: ClusterWish) => post(`/api/runs/${run.id}/cluster`, wish) });
  const change = (some: Partial<Typed>): void => {
    send.reset();
    setTyped({ ...typed, ...some });
  };
  const wish = wishOf(typed);
  const usual = cluster.partitions.find((p) => p.isUsual);
  return (
    <Box
      as="form"
      onSubmit={(event: React.FormEvent) => {
        event.preventDefault();
        if (wish !== null) send.mutate(wish);
      }}
    >
      <Text mb="2.5" color="softInk">
        Each frame that waits becomes a task of an array on the cluster. Nodes that are at work go on taking
        frames, and no frame is made twice.
      </Text>
      <Grid templateColumns="repeat(2, minmax(0, 1fr))" columnGap="5" rowGap="2" mb="3" maxW="520px">
        <TextLine
          label="Frames"
          hint="Blank: all that it waits for"
          value={typed.frames}
          onChange={(text) => change({ frames: text })}
          isMono
        />
        <Labelled label="Machines">
          <Select
            label="Machines"
            value={typed.partition}
            options={[
              ["", usual === undefined ? "the usual ones" : `the usual ones (${usual.name})`],
              ...cluster.partitions.map(
                ({ name, machines }) =>
                  [name, `${name}, ${count(machines)} ${machines === 1 ? "machine" : "machines"}`] as const,
              ),
            ]}
            onChange={(partition) => change({ partition })}
          />
        </Labelled>
        <TextLine
          label="Minutes a frame may take"
          hint="Blank: as the cluster has it"
          fault={isWrong(typed.minutes) ? "A whole number of minutes" : undefined}
          value={typed.minutes}
          onChange={(text) => change({ minutes: text })}
          isMono
        />
        <TextLine
          label="Megabytes a frame may use"
          hint="Blank: as the cluster has it"
          fault={isWrong(typed.memoryMb) ? "A whole number of megabytes" : undefined}
          value={typed.memoryMb}
          onChange={(text) => change({ memoryMb: text })}
          isMono
        />
      </Grid>
      <Button
        type="submit"
        size="sm"
        disabled={wish === null}
        loading={send.isPending}
        loadingText="Sending…"
      >
        Send run {run.id} to the cluster
      </Button>
      {send.error !== null && <Refusal>{messageOf(send.error)}</Refusal>}
    </Box>
  );
}

/** What is asked of a frame there, where anything is. */
const limitsText = ({ partition, minutes, memoryMb }: DispatchView): string =>
  listed([
    ...(partition === null ? [] : [`machines of ${partition}`]),
    ...(minutes === null ? [] : [`${count(minutes)} min a frame`]),
    ...(memoryMb === null ? [] : [`${count(memoryMb)} MB a frame`]),
  ]);

function Sent({ run, dispatch }: { readonly run: RunView; readonly dispatch: DispatchView }) {
  const back = useMutation({ mutationFn: () => remove(`/api/runs/${run.id}/cluster`) });
  const { jobs, works, waits, held, reason, fault } = dispatch;
  const limits = limitsText(dispatch);
  return (
    <Box>
      <Line label="In work">{frames(works)}</Line>
      <Line label="Waiting">
        {frames(waits)}
        {reason === null || waits === 0 ? "" : ` (${reason})`}
      </Line>
      {held > 0 && <Line label="Held">{frames(held)}</Line>}
      <Line label={jobs.length === 1 ? "Array" : "Arrays"}>
        {jobs.length === 0 ? "none now" : jobs.join(", ")}
      </Line>
      {dispatch.frames !== null && <Line label="Frames">{dispatch.frames}</Line>}
      {limits !== "" && <Line label="Within">{limits}</Line>}
      {fault !== null && <Refusal>{fault}</Refusal>}
      <Flex mt="3" gap="4" align="baseline">
        <Button size="sm" variant="outline" loading={back.isPending} onClick={() => back.mutate()}>
          Take run {run.id} back
        </Button>
        <Text color="softInk">What is in work there is saved and given back.</Text>
      </Flex>
      {back.error !== null && <Refusal>{messageOf(back.error)}</Refusal>}
    </Box>
  );
}

export function ClusterPane({ run }: { readonly run: RunView }) {
  const { data: cluster, error } = useCluster();
  if (run.dispatch !== null) return <Sent run={run} dispatch={run.dispatch} />;
  if (cluster === undefined)
    return error === null ? (
      <Loading what="the cluster" />
    ) : (
      <Refusal>The cluster cannot be asked now.</Refusal>
    );
  if (cluster.fault !== null) return <Refusal>{cluster.fault}</Refusal>;
  return <SendForm run={run} cluster={cluster} />;
}
