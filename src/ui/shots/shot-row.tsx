"use client";
/**
 * One line of the ledger. It says three things at one look: what there is (the band and its sentence), what goes
 * on, and the one next step.
 */
import { Box, Button, Checkbox, Flex, Grid, Image, Text } from "@chakra-ui/react";
import NextLink from "next/link";
import { memo, useState } from "react";
import { versionName } from "@/core/plan/plan";
import { durationSeconds } from "@/core/timing/rate";
import { BandLine } from "../band/band-line";
import { pictureUrl, shotPage } from "../live/api";
import { useNow } from "../page/header";
import { SentenceText } from "../shot/sentence";
import { stepLabel } from "../next-step-label";
import { clock, duration, frames, standstillText } from "../words";
import type { RunView } from "@/contract/run-view";
import { standstillOf } from "@/core/run/standstill";
import { useLive } from "../live/live-store";
import { goesOn } from "@/core/run/run-life";
import { ChangeShot } from "./change-shot";
import type { LedgerLine } from "./use-ledger";

/** What a run that goes on does, or why it does nothing. Drawn anew with each news: the line is not. */
function RunNow({ run }: { readonly run: RunView }) {
  const now = useNow();
  const { rendering, nodes } = useLive();
  if (now === null) return null;
  const inWork = rendering.filter((r) => r.runId === run.id).length;
  const still = standstillOf({ ...run, isHeld: run.held !== null }, inWork, nodes, now);
  const text =
    still !== null
      ? (standstillText(still, now) ?? "Held.")
      : run.state === "halting"
        ? "Stopping now."
        : run.state === "stopping"
          ? "Stopping after the running frames."
          : run.likelyFinish === null
            ? "Running."
            : `Running, likely until ${clock(run.likelyFinish, now)}.`;
  return <Text color={still === null ? "softInk" : "ochre"}>{text}</Text>;
}

/** The picture and the code lead to the shot, the button to the bench where the next step is done. */
export const ShotRow = memo(function ShotRow({
  project,
  line,
  rate,
  isPicked,
  onPick,
}: {
  /** Its name in addresses. */
  readonly project: string;
  readonly line: LedgerLine;
  /** Frames a second, for how long the shot lasts. */
  readonly rate: { readonly numerator: number; readonly denominator: number };
  /** Null: lines cannot be chosen now. */
  readonly isPicked: boolean | null;
  /** The same function each time, or every line would be drawn anew. */
  readonly onPick: (code: string, isPicked: boolean) => void;
}) {
  const { shot, tally, counts, step } = line;
  const [isChanging, setChanging] = useState(false);
  const { run } = shot;
  const isOn = run !== null && goesOn(run.state);
  // The line is of one sequence: of two cameras it says whose frames it counts.
  const { label, bench } = stepLabel(step, shot.cameras > 1 ? ` of ${shot.camera}` : "");
  const href = shotPage({ project, code: shot.code });
  return (
    <Grid
      as="section"
      aria-label={`Shot ${shot.code}`}
      templateColumns={{ base: "1fr", md: "144px minmax(0, 1fr) 176px" }}
      gap="5"
      py="4"
      borderTopWidth="1px"
      borderColor="rule"
      alignItems="center"
      // Of hundreds of lines those in sight are drawn.
      css={{ contentVisibility: "auto", containIntrinsicSize: "auto 118px" }}
    >
      <Box asChild display="block" bg="surround" aspectRatio="16 / 9" position="relative">
        <NextLink href={href} aria-label={`Open ${shot.code}`} tabIndex={-1}>
          {shot.poster === null ? (
            <Flex
              position="absolute"
              inset="0"
              align="center"
              justify="center"
              color="onSurround"
              fontSize="xs"
            >
              no frame yet
            </Flex>
          ) : (
            <Image
              src={pictureUrl(shot.poster.sequenceId, shot.poster.frame, shot.poster.content)}
              alt={`${shot.code}, frame ${shot.poster.frame}`}
              w="full"
              h="full"
              objectFit="contain"
              position="absolute"
              inset="0"
            />
          )}
        </NextLink>
      </Box>
      <Box minW="0">
        <Flex align="baseline" gap="3" flexWrap="wrap">
          {isPicked !== null && (
            <Checkbox.Root
              size="sm"
              alignSelf="center"
              checked={isPicked}
              onCheckedChange={(details) => onPick(shot.code, details.checked === true)}
            >
              <Checkbox.HiddenInput aria-label={`Choose ${shot.code}`} />
              <Checkbox.Control />
            </Checkbox.Root>
          )}
          <Box asChild fontSize="lg" fontWeight="700" _hover={{ color: "petrol" }}>
            <NextLink href={href}>{shot.code}</NextLink>
          </Box>
          {shot.title !== shot.code && <Text fontSize="md">{shot.title}</Text>}
          <Text color="softInk" fontFamily="mono" fontSize="xs">
            {shot.first}-{shot.last} · {duration(durationSeconds(shot.last - shot.first + 1, rate))} ·{" "}
            {versionName(shot)} · {shot.camera}
          </Text>
        </Flex>
        <Box my="2">
          <BandLine tally={tally} height={30} />
        </Box>
        <Flex gap="4" flexWrap="wrap" className="figures">
          <SentenceText counts={counts} />
          {isOn && <RunNow run={run} />}
          {run?.state === "stopped" && <Text color="softInk">Stopped with {frames(run.left)} left.</Text>}
        </Flex>
      </Box>
      <Box justifySelf={{ md: "end" }}>
        <Button
          asChild
          variant={step.step === "watch" || step.step === "hand-over" ? "outline" : "solid"}
          size="sm"
        >
          <NextLink href={`${href}?bench=${bench}`}>{label}</NextLink>
        </Button>
        <Box mt="1" textAlign={{ md: "right" }}>
          <Button
            size="xs"
            variant="plain"
            aria-expanded={isChanging}
            aria-label={`Change ${shot.code}`}
            onClick={() => setChanging(!isChanging)}
          >
            Change
          </Button>
        </Box>
      </Box>
      {isChanging && (
        <Box gridColumn={{ md: "2 / -1" }}>
          <ChangeShot project={project} shot={shot} onDone={() => setChanging(false)} />
        </Box>
      )}
    </Grid>
  );
});
