"use client";
/**
 * What goes, what waits, what is held and why, over all shots, in the order in which it gets nodes; the same done
 * to several at once; and everything that is left, at once.
 */
import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { ChangeRunsBody, HouseRunsView } from "@/contract/runs-view";
import { messageOf, post } from "../live/api";
import { useHouseRuns } from "../live/queries";
import { queryKeys } from "../live/query-keys";
import { Header, useNow } from "../page/header";
import { Loading, Refusal, Trouble } from "../page/states";
import { clock, count, frames } from "../words";
import { LeftOver } from "./left-over";
import { RunDeeds } from "./run-deeds";
import { RunLines } from "./run-lines";

/** All that goes on in one sentence. */
function Sentence({ open }: Pick<HouseRunsView, "open">) {
  const now = useNow();
  const left = open.reduce((sum, { run }) => sum + run.left, 0);
  const finishes = open.map(({ run }) => run.likelyFinish);
  const last = finishes.reduce<number | null>(
    (most, at) => (at === null ? most : Math.max(most ?? 0, at)),
    null,
  );
  if (open.length === 0) return <>Nothing goes on.</>;
  return (
    <>
      {count(open.length)} run{open.length === 1 ? " goes" : "s go"} on with {frames(left)} left
      {last === null || now === null
        ? "; when they are done cannot be told yet"
        : `, likely until ${clock(last, now)}${finishes.includes(null) ? " as far as one can tell" : ""}`}
      .
    </>
  );
}

/** A run is put before another one; the page shows it at once, and what came of it when the server has answered. */
function usePlacing() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ run, before }: { readonly run: number; readonly before: number | null }) =>
      post("/api/runs", { runs: [run], what: "place", before } satisfies ChangeRunsBody),
    onMutate: async ({ run, before }) => {
      await client.cancelQueries({ queryKey: queryKeys.runs });
      client.setQueryData<HouseRunsView>(queryKeys.runs, (shown) => {
        if (shown === undefined) return shown;
        const rest = shown.open.filter((line) => line.run.id !== run);
        const found = rest.findIndex((line) => line.run.id === before);
        const at = found === -1 ? rest.length : found;
        const own = shown.open.filter((line) => line.run.id === run);
        return { ...shown, open: [...rest.slice(0, at), ...own, ...rest.slice(at)] };
      });
    },
    onSettled: () => client.invalidateQueries({ queryKey: queryKeys.runs }),
  });
}

function Runs({ open, ended }: HouseRunsView) {
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [isLeftOpen, setLeftOpen] = useState(false);
  const placing = usePlacing();
  // What has left the page meanwhile is not chosen any more.
  const there = [...open, ...ended].map(({ run }) => run.id).filter((id) => chosen.has(id));
  return (
    <Box as="main" px="6" pt="5" pb="12" maxW="1680px" mx="auto">
      <Flex justify="space-between" align="baseline" gap="4">
        <Heading as="h1" fontSize="xl" fontWeight="700">
          Runs
        </Heading>
        {!isLeftOpen && (
          <Button size="sm" variant="outline" onClick={() => setLeftOpen(true)}>
            Everything that is left…
          </Button>
        )}
      </Flex>
      <Text mb="4" className="figures" data-testid="runs-sentence">
        <Sentence open={open} />
      </Text>
      {isLeftOpen && <LeftOver onClose={() => setLeftOpen(false)} />}
      {open.length + ended.length === 0 ? (
        <Text color="softInk">
          No run was started yet. A run begins on the page of a shot, at the bench Run.
        </Text>
      ) : (
        <RunDeeds chosen={there} onDone={() => setChosen(new Set())} />
      )}
      {placing.error !== null && <Refusal>{messageOf(placing.error)}</Refusal>}
      {open.length > 0 && (
        <RunLines
          label="Runs that go on"
          lines={open}
          chosen={chosen}
          onChoose={setChosen}
          onMove={(run, before) => placing.mutate({ run, before })}
        />
      )}
      {ended.length > 0 && (
        <>
          <Heading as="h2" fontSize="md" fontWeight="700" mt="7" mb="1">
            Stopped and done
          </Heading>
          <RunLines label="Runs that ended" lines={ended} chosen={chosen} onChoose={setChosen} />
        </>
      )}
    </Box>
  );
}

export function RunsPage() {
  const { data, error } = useHouseRuns();
  return (
    <>
      <Header project={null} />
      {data === undefined && error === null && <Loading what="the runs" />}
      {data === undefined && error !== null && (
        <Trouble title="The runs cannot be shown" message={messageOf(error)} />
      )}
      {data !== undefined && <Runs {...data} />}
    </>
  );
}
