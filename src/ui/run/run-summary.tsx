"use client";
/**
 * What a run came to, once it has ended: made, kept, set aside, its time against the estimate, who made it,
 * where it lies.
 */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { type ReactNode, useState } from "react";
import { useRunSummary } from "../live/queries";
import { useNow } from "../page/header";
import { Loading, Refusal } from "../page/states";
import { deedText, duration, frames, count } from "../words";
import { againstEstimate } from "./words";

/** Read once a run has ended; it does not change any more. */
export function RunSummary({ runId }: { readonly runId: number }) {
  const { data: summary, error } = useRunSummary(runId);
  const now = useNow();
  const [copied, setCopied] = useState<string | null>(null);
  if (summary === undefined)
    return error === null ? (
      <Loading what="the summary" />
    ) : (
      <Refusal>The summary cannot be read now.</Refusal>
    );
  const {
    made,
    kept,
    left,
    setAside,
    seconds,
    stoodStillSeconds,
    isTidied,
    workSeconds,
    estimatedSeconds,
    folders,
    deeds,
    nodes,
  } = summary;
  return (
    <Box data-testid="run-summary" className="figures">
      <Line label="Made">
        {frames(made)}
        {kept > 0 ? `; ${frames(kept)} were kept as they were` : ""}
      </Line>
      {setAside.count > 0 && (
        <Line label="Set aside">
          <Box as="span" color="brick">
            {frames(setAside.count)}:{" "}
            <Box as="span" fontFamily="mono">
              {setAside.frames}
            </Box>
            . Their log says why.
          </Box>
        </Line>
      )}
      {left > 0 && <Line label="Left">{frames(left)} wait for this run to go on</Line>}
      {seconds !== null && (
        <Line label="Took">
          {duration(seconds)}
          {estimatedSeconds === null
            ? "; nothing had been timed before, so there was no estimate"
            : againstEstimate(seconds, estimatedSeconds)}
          {stoodStillSeconds > 0 ? `; beside that it stood still for ${duration(stoodStillSeconds)}` : ""}
        </Line>
      )}
      {isTidied && <Line label="Took">not known any more: housekeeping has removed what each node did</Line>}
      {nodes.length > 0 && (
        <Line label="Work">
          {duration(workSeconds)} on {nodes.length === 1 ? nodes[0]!.node : `${count(nodes.length)} nodes`}
        </Line>
      )}
      {nodes.length > 1 &&
        nodes.map((n) => (
          <Line key={n.node} label="">
            <Box as="span" fontFamily="mono">
              {n.node}
            </Box>{" "}
            {count(n.made)} made, {duration(n.seconds)}
            {n.failed > 0 ? (
              <Box as="span" color="brick">
                , {count(n.failed)} failed
              </Box>
            ) : (
              ""
            )}
            {n.lost > 0 ? (
              <Box as="span" color="brick">
                , {count(n.lost)} lost
              </Box>
            ) : (
              ""
            )}
          </Line>
        ))}
      {now !== null && deeds.length > 0 && (
        <Line label="People">
          {[...deeds]
            .reverse()
            .map((deed) => deedText(deed, now))
            .join(", ")}
        </Line>
      )}
      {folders.map((folder, i) => (
        <Line key={folder} label={i === 0 ? "Lies in" : ""}>
          <Box as="span" fontFamily="mono" fontSize="xs" overflowWrap="anywhere">
            {folder}
          </Box>{" "}
          <Button
            size="xs"
            variant="plain"
            onClick={() => void navigator.clipboard.writeText(folder).then(() => setCopied(folder))}
          >
            {copied === folder ? "Copied" : "Copy"}
          </Button>
        </Line>
      ))}
    </Box>
  );
}

/** A label of one width: the figures stand under one another. */
function Line({ label, children }: { readonly label: string; readonly children: ReactNode }) {
  return (
    <Flex
      gap="4"
      py="1"
      borderBottomWidth={label === "" ? "0" : "1px"}
      borderBottomStyle="dotted"
      borderColor="rule"
      align="baseline"
    >
      <Text w="72px" flexShrink={0} color="softInk">
        {label}
      </Text>
      <Box minW="0">{children}</Box>
    </Flex>
  );
}
