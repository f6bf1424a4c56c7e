"use client";
/** Plan of frames that something else renders: what is asked for, and what the numbers in the files mean. */
import { Box, Flex, Grid, Table, Text } from "@chakra-ui/react";
import { firstOf, lastOf } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { ALPHAS, fileText } from "@/core/image/file-format";
import { placeName } from "@/core/plan/watched";
import { durationSeconds, rateText } from "@/core/timing/rate";
import { timeCode } from "@/core/timing/time-code";
import { Meant } from "../fields/meant";
import { Entry, Select, TextField, Toggle } from "../fields/fields";
import { RateSelect } from "../fields/rate-select";
import { Bench, Caption, Line } from "../page/bench";
import { FOUND_ALPHA } from "../shot/found-words";
import { SaveDraft } from "../shot/save-draft";
import { useSequenceNow, useShotWork } from "../shot/shot-context";
import { duration, frames } from "../words";

/** What of the plan is somebody's to say: the rest was read from the files. */
function Fields() {
  const {
    draft: { plan, change },
  } = useShotWork();
  const { tally } = useSequenceNow();
  const { watched, file } = plan;
  if (watched === null || file.kind !== "foreign") return null;
  return (
    <Flex direction="column" gap="3">
      <Toggle
        isOn={watched.followsFiles}
        onChange={(followsFiles) =>
          change({
            watched: { ...watched, followsFiles },
            // What was asked for so far stays asked for.
            ...(followsFiles ? {} : { frames: formatPhrase(tally.asked) }),
          })
        }
      >
        Ask for all from the first frame that is there to the last
      </Toggle>
      <TextField
        field="frames"
        label={watched.followsFiles ? "And at least for these frames" : "Frames"}
        hint="1001-1096; what has a file and is not asked for counts as extra"
      />
      <Meant text={plan.frames} isNumbersOnly onTake={(phrase) => change({ frames: phrase })} />
      <Grid templateColumns="1fr 1fr 1fr" gap="3">
        <Entry field="rate" label="Frames a second">
          <RateSelect rate={plan.rate} onRate={(rate) => change({ rate })} />
        </Entry>
        <Entry field="alpha" label="Alpha">
          <Select
            label="Alpha"
            value={plan.alpha}
            options={ALPHAS.map((kind) => [kind, FOUND_ALPHA[kind]] as const)}
            onChange={(alpha) => change({ alpha })}
          />
        </Entry>
        <Entry field="file" label="Numbers are">
          <Select
            label="Numbers are"
            value={file.isLinear ? "linear" : "display"}
            options={[
              ["display", "what is shown"],
              ["linear", "light of the scene"],
            ]}
            onChange={(kind) => change({ file: { ...file, isLinear: kind === "linear" } })}
          />
        </Entry>
      </Grid>
      <Text color="softInk" fontSize="sm">
        Rate, alpha and light decide how the frames are played and what movies are made of them. No frame is
        out of date for it.
      </Text>
    </Flex>
  );
}

function Follows() {
  const { draft, shot } = useShotWork();
  const { tally } = useSequenceNow();
  const { plan } = draft;
  const sequences = plan.watched?.sequences ?? [];
  return (
    <>
      <Caption>As it was found</Caption>
      <Line label="Frames">
        {frames(tally.asked.count)}, {firstOf(tally.asked) ?? ""}-{lastOf(tally.asked) ?? ""}:{" "}
        {duration(durationSeconds(tally.asked.count, plan.rate))} at {rateText(plan.rate)},{" "}
        {timeCode(tally.asked.count, plan.rate)}
      </Line>
      <Line label="Files">{fileText(plan.file)}</Line>
      <Box mt="3" overflowX="auto">
        <Table.Root size="sm" variant="line">
          <Table.Header>
            <Table.Row bg="transparent">
              {["camera", "pass", "size", "files"].map((title) => (
                <Table.ColumnHeader key={title} px="1" color="softInk" fontWeight="400">
                  {title}
                </Table.ColumnHeader>
              ))}
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {sequences.map((s, i) => (
              <Table.Row key={`${s.camera} ${s.pass}`} bg="transparent" verticalAlign="top">
                <Table.Cell px="1">{s.camera}</Table.Cell>
                <Table.Cell px="1">{s.pass}</Table.Cell>
                <Table.Cell px="1" className="figures" whiteSpace="nowrap">
                  {s.size === null ? "not read" : `${s.size.width} x ${s.size.height}`}
                </Table.Cell>
                <Table.Cell px="1" fontFamily="mono" fontSize="xs" overflowWrap="anywhere">
                  {shot.watchedFolders[i]}/{placeName(s.place)}
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Box>
      <Text color="softInk" fontSize="sm" mt="3">
        Nothing of ours is ever written there. What is decided and measured lies below the project&#8217;s own
        folder.
      </Text>
    </>
  );
}

export function WatchedPlan() {
  return <Bench left={<Fields />} foot={<SaveDraft />} right={<Follows />} />;
}
