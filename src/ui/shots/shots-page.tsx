"use client";
/**
 * All shots of the project as lines of a ledger.
 * A line says three things at one look: what there is (the band and its sentence), what goes on, and the
 * one next step. What changed comes as news, a line at a time (live/lines-wanted): a ledger may have 500 of
 * them.
 */
import { Box, Button, Flex, Grid, Heading, Image, Text } from "@chakra-ui/react";
import NextLink from "next/link";
import { useMemo, useState } from "react";
import type { ShotLine } from "@/contract/shot-view";
import { versionName } from "@/core/plan/plan";
import { type NextStep, nextStep } from "@/core/tally/next-step";
import { unpackTally } from "@/core/tally/packed";
import { countsOf } from "@/core/tally/tally";
import { durationSeconds, rateText } from "@/core/timing/rate";
import { BandLine } from "../band/band-line";
import { messageOf, pictureUrl, projectPage, shotPage } from "../live/api";
import { useShots } from "../live/queries";
import { Header, useNow } from "../page/header";
import { Loading, Trouble } from "../page/states";
import { SentenceText } from "../shot/sentence";
import { clock, count, duration, frames, standstillText } from "../words";
import type { RunView } from "@/contract/run-view";
import { standstillOf } from "@/core/run/standstill";
import { useLive } from "../live/live-store";
import { goesOn } from "@/core/run/run-life";
import { ProjectDoors } from "./add-shots-page";
import { ArchivedShots } from "./archived-shots";
import { ChangeShot } from "./change-shot";

/** A line a shot: what it is, its band, what goes on, when it is done. */
export function ShotsPage({ project }: { readonly project: string }) {
  const { data, error } = useShots(project);
  return (
    <>
      <Header project={data?.project ?? null} />
      {data === undefined && error === null && <Loading what="the shots" />}
      {data === undefined && error !== null && (
        <Trouble title="The shots cannot be shown" message={messageOf(error)} />
      )}
      {data !== undefined && (
        <Box as="main" px="6" pt="5" maxW="1680px" mx="auto">
          <Flex align="baseline" gap="4" mb="2">
            <Heading as="h1" fontSize="xl" fontWeight="700">
              {data.project.title}
            </Heading>
            <Text color="softInk" className="figures">
              {data.shots.length} shot{data.shots.length === 1 ? "" : "s"} · {rateText(data.project.rate)}{" "}
              frames a second
            </Text>
            {data.shots.length > 0 && (
              <Button asChild size="sm" variant="outline" ml="auto">
                <NextLink href={`${projectPage(project)}/add`}>Add shots</NextLink>
              </Button>
            )}
          </Flex>
          {data.shots.length === 0 ? (
            <>
              <Text color="softInk" mb="5">
                No shot yet. Bring in what you have.
              </Text>
              <ProjectDoors project={project} />
            </>
          ) : (
            data.shots.map((shot) => (
              <ShotRow key={shot.code} project={project} shot={shot} rate={data.project.rate} />
            ))
          )}
          {data.archived.length > 0 && <ArchivedShots project={project} codes={data.archived} />}
        </Box>
      )}
    </>
  );
}

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

/** What the one next step is called, and the bench where it is done. */
function stepLabel(step: NextStep, of: string): { readonly label: string; readonly bench: string } {
  switch (step.step) {
    case "watch":
      return { label: "Watch the run", bench: "run" };
    case "resume":
      return { label: `Go on with ${frames(step.frames)}`, bench: "run" };
    case "run":
      return { label: `Run ${frames(step.frames)}${of}`, bench: "run" };
    case "run-rest":
      return { label: `Run the other ${count(step.frames)}`, bench: "run" };
    case "patch":
      return { label: `Patch ${frames(step.frames)}`, bench: "patch" };
    case "look":
      return { label: "Look at it", bench: "check" };
  }
}

/** The picture and the code lead to the shot, the button to the bench where the next step is done. */
function ShotRow({
  project,
  shot,
  rate,
}: {
  /** Its name in addresses. */
  readonly project: string;
  readonly shot: ShotLine;
  /** Frames a second, for how long the shot lasts. */
  readonly rate: { readonly numerator: number; readonly denominator: number };
}) {
  const tally = useMemo(() => unpackTally(shot.tally), [shot.tally]);
  const counts = countsOf(tally);
  const [isChanging, setChanging] = useState(false);
  const { run } = shot;
  const isOn = run !== null && goesOn(run.state);
  // The same rule as on the shot's own page: the two never name different steps.
  const step = nextStep(counts, isOn, run?.state === "stopped" ? run.left : 0);
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
          variant={step.step === "watch" || step.step === "look" ? "outline" : "solid"}
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
}
