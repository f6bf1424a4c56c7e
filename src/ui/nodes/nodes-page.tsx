"use client";
/**
 * The nodes: what each does now, and what it may take of its machine.
 * What is decided here is kept in the house and heard by the node with its next heartbeat, so that a click
 * needs no node at the other end of it. What nodes do now comes with the live news; all else is asked for
 * once, and again after each decision.
 */
import { Box, Button, Flex, Heading, Table, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { ClockInput } from "../fields/clock-input";
import NextLink from "next/link";
import { useState } from "react";
import type { NodeSettings } from "@/contract/node-settings";
import type { DeedView } from "@/contract/who";
import type { Pause } from "@/contract/run-manner";
import { messageOf, post, shotPage } from "../live/api";
import { useLive } from "../live/live-store";
import { useNodes } from "../live/queries";
import { Header, useNow } from "../page/header";
import { Loading, Refusal, Trouble } from "../page/states";
import { Select, Toggle } from "../fields/fields";
import { SetNodeAside } from "../page/set-node-aside";
import { Tip } from "../theme/tip";
import { clock, count, deedText, workTime } from "../words";
import { GroupsForm } from "./groups-form";
import { Invitations } from "./invitations";
import { asideText, MEMORY_TEXT, NICE_TEXT, NODE_STATE_WORD } from "./words";
import { queryKeys } from "../live/query-keys";
import type { AsideView, NodeDetail } from "@/contract/node-view";
import type { RenderingView } from "@/contract/live";

/** What ticking "only when I am away" begins with: a desk's night. */
const USUAL_HOURS = { from: "19:00", to: "08:00" } as const;
/** The house allows more; what a node has is offered in any case. */
const MOST_CORES = 16;

/** A node enters the list by working here once, and stays: what it made is told under its name. */
export function NodesPage() {
  const { data, error } = useNodes();
  return (
    <Flex direction="column" minH="100vh">
      <Header project={null} />
      <Box as="main" px="6" py="4">
        {error !== null && data === undefined ? (
          <Trouble title="The nodes cannot be read now" message={messageOf(error)} />
        ) : data === undefined ? (
          <Loading what="the nodes" />
        ) : (
          <>
            <Flex gap="6" rowGap="2" align="center" mb="4" flexWrap="wrap">
              <Heading as="h1" fontSize="xl">
                Nodes
              </Heading>
              {data.nodes.length > 0 && <PauseAll pause={data.pause} by={data.pausedBy} />}
            </Flex>
            {data.nodes.length === 0 ? (
              <Text color="softInk">
                No node has ever worked here. Start one on any machine that sees the storage and the database:{" "}
                <code>npx plain-tally node --name NAME</code>
              </Text>
            ) : (
              <>
                <NodeTable nodes={data.nodes} isHousePaused={data.pause !== "no"} />
                <Text color="softInk" fontSize="xs" mt="3" maxW="760px">
                  Changes are heard within a second or two, also in the middle of a frame. Fewer cores and a
                  pause after the frame let frames in work end; a pause now and the end of the hours save what
                  a frame has and give it back. Another node: <code>npx plain-tally node --name NAME</code>
                </Text>
              </>
            )}
            <Invitations />
          </>
        )}
      </Box>
    </Flex>
  );
}

/** One switch for the whole house, beside the node's own: a node works when neither says no. */
function PauseAll({ pause, by }: { readonly pause: Pause; readonly by: DeedView | null }) {
  const now = useNow();
  const client = useQueryClient();
  const set = useMutation({
    mutationFn: (to: Pause) => post("/api/pause", { pause: to }),
    onSuccess: () => client.invalidateQueries({ queryKey: queryKeys.nodes }),
  });
  return (
    <Flex gap="3" rowGap="1" align="center" flexWrap="wrap" data-testid="pause-all">
      {pause === "no" ? (
        <>
          <Button
            size="xs"
            variant="outline"
            loading={set.isPending}
            onClick={() => set.mutate("after-frame")}
          >
            Pause all after their frames
          </Button>
          <Button size="xs" variant="outline" loading={set.isPending} onClick={() => set.mutate("now")}>
            Pause all now
          </Button>
        </>
      ) : (
        <>
          <Text color="ochre" role="status">
            Every node is paused, also those that come later
            {by === null || now === null ? "" : `; ${deedText(by, now)}`}.
          </Text>
          <Button size="xs" loading={set.isPending} onClick={() => set.mutate("no")}>
            Let all go on
          </Button>
        </>
      )}
      {set.error !== null && <Refusal>{messageOf(set.error)}</Refusal>}
    </Flex>
  );
}

/** Where there is no room for a line a node: each figure under the other, with its head before it. */
const STACKED = {
  lgDown: {
    "&, & tbody, & tr": { display: "block" },
    "& thead": { display: "none" },
    "& tr": { borderBottomWidth: "1px", borderColor: "rule", py: "2" },
    "& td": {
      display: "flex",
      flexWrap: "wrap",
      alignItems: "baseline",
      columnGap: "4",
      w: "auto",
      minW: "0",
      px: "0",
      py: "1",
      textAlign: "left",
      whiteSpace: "normal",
      borderBottomWidth: "0",
    },
    "& td[data-head]::before": { content: "attr(data-head)", color: "softInk", w: "88px", flexShrink: "0" },
  },
} as const;

/** The last column holds the buttons, which need no head. */
const HEADS = ["Node", "Does now", "Today", "Cores", "Memory", "Gives way", "Works", ""] as const;

/** Every node, by name: one that is away stays in the list, so that it is missed. */
function NodeTable({
  nodes,
  isHousePaused,
}: {
  readonly nodes: readonly NodeDetail[];
  /** A node's own pause would then change nothing that can be seen. */
  readonly isHousePaused: boolean;
}) {
  return (
    <Table.Root size="sm" variant="line" css={STACKED}>
      <Table.Header>
        <Table.Row bg="transparent">
          {HEADS.map((head) => (
            <Table.ColumnHeader key={head} color="softInk" fontWeight="400">
              {head}
            </Table.ColumnHeader>
          ))}
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {nodes.map((node) => (
          <NodeLine key={node.name} node={node} isHousePaused={isHousePaused} />
        ))}
      </Table.Body>
    </Table.Root>
  );
}

/** A change is sent as it is made, without a button to save: what was asked for shows when it was taken. */
function NodeLine({ node, isHousePaused }: { readonly node: NodeDetail; readonly isHousePaused: boolean }) {
  const live = useLive();
  const client = useQueryClient();
  const change = useMutation({
    mutationFn: (settings: Partial<NodeSettings>) =>
      post(`/api/nodes/${encodeURIComponent(node.name)}`, settings),
    onSettled: () => client.invalidateQueries({ queryKey: queryKeys.nodes }),
  });
  // News are newer than the answer that the list was made from.
  const state = live.nodes.find((n) => n.name === node.name)?.state ?? node.state;
  const works = live.rendering.filter((r) => r.node === node.name);
  const { hours } = node;
  const [isAsking, setAsking] = useState(false);
  const [isGrouping, setGrouping] = useState(false);
  return (
    <>
      <Table.Row
        bg="transparent"
        verticalAlign="top"
        data-testid="node"
        data-node={node.name}
        {...(node.asides.length > 0 ? { css: { "& > td": { borderBottomColor: "transparent" } } } : {})}
      >
        <Table.Cell whiteSpace="nowrap">
          <Box fontFamily="mono" fontWeight="700">
            {node.name}
          </Box>
          <Box color="softInk" fontSize="xs">
            {node.host}
          </Box>
          {node.groups.length > 0 && (
            <Box fontSize="xs" maxW="150px" whiteSpace="normal">
              in {node.groups.join(", ")}
            </Box>
          )}
          <Tip text="A run may be for all of a group">
            <Button size="xs" variant="plain" px="0" onClick={() => setGrouping(true)}>
              Groups…
            </Button>
          </Tip>
        </Table.Cell>
        <Table.Cell minW="250px" data-head="Does now">
          {works.length === 0 ? (
            <Text
              color={
                state === "away" || state === "set-aside"
                  ? "brick"
                  : state === "paused" || state === "off-hours"
                    ? "ochre"
                    : "softInk"
              }
            >
              {NODE_STATE_WORD[state]}
              {state === "paused" && node.pause !== "no" && node.pausedBy?.who != null
                ? ` by ${node.pausedBy.who}`
                : ""}
            </Text>
          ) : (
            works.map((work) => <Work key={`${work.sequenceId}/${work.frame}`} work={work} />)
          )}
          {change.error !== null && <Refusal>{messageOf(change.error)}</Refusal>}
        </Table.Cell>
        <Table.Cell className="figures" whiteSpace="nowrap" data-head="Today">
          {count(node.made)} made
          {node.failed > 0 ? (
            <Box as="span" color="brick">
              , {count(node.failed)} lost or failed
            </Box>
          ) : (
            ""
          )}
        </Table.Cell>
        <Table.Cell w="84px" data-head="Cores">
          {node.isCalled ? (
            <Text color="softInk">as called</Text>
          ) : (
            <Select
              label={`Cores of ${node.name}`}
              value={String(node.cores)}
              options={Array.from(
                { length: Math.max(MOST_CORES, node.cores) },
                (_, i) => [String(i + 1), String(i + 1)] as const,
              )}
              onChange={(cores) => change.mutate({ cores: Number(cores) })}
            />
          )}
        </Table.Cell>
        <Table.Cell w="116px" data-head="Memory">
          <Select
            label={`Most memory a renderer of ${node.name} may use`}
            value={node.memoryMb === null ? "" : String(node.memoryMb)}
            options={
              MEMORY_TEXT.some(([mb]) => mb === String(node.memoryMb ?? ""))
                ? MEMORY_TEXT
                : [...MEMORY_TEXT, [String(node.memoryMb), `${count(node.memoryMb!)} MB`]]
            }
            onChange={(mb) => change.mutate({ memoryMb: mb === "" ? null : Number(mb) })}
          />
        </Table.Cell>
        <Table.Cell w="138px" data-head="Gives way">
          <Select
            label={`How far ${node.name} steps back for other programs`}
            value={String(node.nice)}
            options={Object.entries(
              node.nice in NICE_TEXT ? NICE_TEXT : { ...NICE_TEXT, [node.nice]: `niceness ${node.nice}` },
            )}
            onChange={(nice) => change.mutate({ nice: Number(nice) })}
          />
        </Table.Cell>
        <Table.Cell w="180px" data-head="Works">
          {node.isCalled ? (
            <Text color="softInk">when the cluster calls it</Text>
          ) : (
            <>
              <Toggle
                isOn={hours !== null}
                onChange={(isOn) => change.mutate({ hours: isOn ? USUAL_HOURS : null })}
              >
                only when I am away
              </Toggle>
              {hours !== null && (
                <Flex gap="2" align="center" mt="1" flexWrap="wrap">
                  <Box as="span" w="34px">
                    from
                  </Box>
                  <ClockInput
                    label={`From, ${node.name}`}
                    value={hours.from}
                    onChange={(from) => change.mutate({ hours: { ...hours, from } })}
                  />
                  <Box as="span" w="34px">
                    to
                  </Box>
                  <ClockInput
                    label={`To, ${node.name}`}
                    value={hours.to}
                    onChange={(to) => change.mutate({ hours: { ...hours, to } })}
                  />
                </Flex>
              )}
            </>
          )}
        </Table.Cell>
        <Table.Cell textAlign="right" whiteSpace="nowrap">
          {node.pause !== "no" ? (
            <Button size="xs" loading={change.isPending} onClick={() => change.mutate({ pause: "no" })}>
              Go on
            </Button>
          ) : (
            <>
              <Tip text="It finishes its frame and takes no other">
                <Button
                  size="xs"
                  variant="plain"
                  disabled={isHousePaused}
                  onClick={() => change.mutate({ pause: "after-frame" })}
                >
                  Pause after this
                </Button>
              </Tip>
              <Tip text="What its frame has so far is saved, and the frame goes to another node">
                <Button
                  size="xs"
                  variant="plain"
                  disabled={isHousePaused}
                  onClick={() => change.mutate({ pause: "now" })}
                >
                  Pause now
                </Button>
              </Tip>
              <Box>
                <Tip text="Its pictures are not trusted: it gets no frames, with the reason kept">
                  <Button size="xs" variant="plain" onClick={() => setAsking(true)}>
                    Set aside…
                  </Button>
                </Tip>
              </Box>
            </>
          )}
        </Table.Cell>
      </Table.Row>
      {isGrouping && (
        <Table.Row bg="transparent">
          <Table.Cell colSpan={HEADS.length} pt="0">
            <GroupsForm
              node={node.name}
              groups={node.groups}
              change={change}
              onDone={() => setGrouping(false)}
            />
          </Table.Cell>
        </Table.Row>
      )}
      {isAsking && (
        <Table.Row bg="transparent">
          <Table.Cell colSpan={HEADS.length} pt="0">
            <SetNodeAside node={node.name} onDone={() => setAsking(false)} />
          </Table.Cell>
        </Table.Row>
      )}
      {node.asides.map((aside) => (
        <AsideLine key={aside.id} node={node.name} aside={aside} />
      ))}
    </>
  );
}

/** Why the node is set aside, and its way back. */
function AsideLine({ node, aside }: { readonly node: string; readonly aside: AsideView }) {
  const now = useNow();
  const client = useQueryClient();
  const letIn = useMutation({
    mutationFn: () => post(`/api/asides/${aside.id}`),
    onSettled: () => client.invalidateQueries({ queryKey: queryKeys.nodes }),
  });
  return (
    <Table.Row bg="transparent" data-testid="aside" data-node={node}>
      <Table.Cell colSpan={HEADS.length} pt="0">
        <Flex gap="4" align="center">
          <Text color="brick" overflowWrap="anywhere">
            {now === null ? "" : `${clock(aside.at, now)}  `}
            {asideText(aside)}
          </Text>
          <Box ml="auto" flexShrink={0}>
            <Tip
              text={
                aside.reason.code === "not-ready"
                  ? "It looks again at once"
                  : "It gets frames again; what it failed on before counts no more"
              }
            >
              <Button size="xs" variant="outline" loading={letIn.isPending} onClick={() => letIn.mutate()}>
                Let {node} back in
              </Button>
            </Tip>
          </Box>
        </Flex>
        {letIn.error !== null && <Refusal>{messageOf(letIn.error)}</Refusal>}
      </Table.Cell>
    </Table.Row>
  );
}

/** A frame in work, with its way back into the queue. */
function Work({ work }: { readonly work: RenderingView }) {
  const live = useLive();
  const now = useNow();
  const back = useMutation({
    mutationFn: () =>
      post(`/api/runs/${work.runId}/put-back`, { leadId: work.sequenceId, frame: work.frame }),
  });
  const passed = now === null ? 0 : Math.max(0, now - live.at) / 1000;
  return (
    <Box className="figures" whiteSpace="nowrap" title={`Run ${work.runId}`}>
      <Flex gap="3" align="center">
        <Text>
          {work.isProof ? "proves" : work.isLight ? "gathers light for" : "renders"}{" "}
          <Box asChild color="petrol" textDecoration="underline" textUnderlineOffset="3px">
            <NextLink
              href={`${shotPage({ project: work.project, code: work.shot })}?version=${work.version}&bench=${work.isProof ? "prove" : "run"}`}
            >
              {work.shot} {work.version}
            </NextLink>
          </Box>{" "}
          <Box as="span" fontFamily="mono">
            {work.frame}
          </Box>
        </Text>
        <Tip text="Saved and given back; it then waits behind the other frames of its run">
          <Button size="2xs" variant="plain" loading={back.isPending} onClick={() => back.mutate()}>
            Put back
          </Button>
        </Tip>
      </Flex>
      <Text fontSize="xs" color="softInk">
        {Math.round(work.progress * 100)} %, {workTime(work, passed)}
      </Text>
    </Box>
  );
}
