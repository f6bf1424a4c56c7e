"use client";
/** Rough and final versions, and two revisions compared setting by setting. */
import { Box, Button, Flex, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { changedFields, type Plan } from "@/core/plan/plan";
import { finalOf, roughOf } from "@/core/plan/rough";
import { isSameRate, parseRate, rateText } from "@/core/timing/rate";
import { messageOf, nameOfShot } from "../live/api";
import { useRevisions } from "../live/queries";
import { Refusal } from "../page/states";
import { useShotWork } from "../shot/shot-context";
import { Remark, Select } from "../fields/fields";
import { useOpenVersion } from "../shot/use-open-version";
import { FIELD_WORD, valueText } from "../shot/plan-words";

/** A rough that was made from a final leads back to it; any other version leads to a rough. */
export function RevisionGroup() {
  const { shot } = useShotWork();
  return (
    <Flex direction="column" gap="3">
      {shot.sequence.purpose === "rough" && shot.madeFrom !== null ? <MakeFinal /> : <MakeRough />}
      <Compare />
    </Flex>
  );
}

/** Frames a second that are quick to judge motion by, beside the plan's own. */
const ROUGH_RATES = ["10", "12", "24", "25", "30"] as const;

/** A rough is a version of its own, so that its files never lie among those of the final. */
function MakeRough() {
  const {
    draft: { plan },
    shot,
  } = useShotWork();
  const open = useOpenVersion();
  const [rate, setRate] = useState(rateText(plan.rate));
  const chosen = parseRate(rate) ?? plan.rate;
  return (
    <Box>
      <Flex gap="3" align="center">
        <Button
          size="sm"
          variant="outline"
          loading={open.isPending}
          onClick={() =>
            open.mutate({ plan: roughOf(plan, chosen), purpose: "rough", fromRevisionId: shot.revisionId })
          }
        >
          Open a rough version
        </Button>
        <Flex w="150px">
          <Select
            label="Rate of the rough version"
            value={rate}
            options={[...new Set([rateText(plan.rate), ...ROUGH_RATES])].map(
              (r) => [r, `${r} a second`] as const,
            )}
            onChange={setRate}
          />
        </Flex>
      </Flex>
      <Remark>
        Direct light only, half the size, 2 samples, JPEG
        {isSameRate(chosen, plan.rate) ? "" : `, ${rate} frames a second for the same duration`}; in a folder
        of its own, numbered by itself. It never counts as work to do.
      </Remark>
      {open.error !== null && <Refusal>{messageOf(open.error)}</Refusal>}
    </Box>
  );
}

/**
 * What was tried on the rough goes back into the final it was made from, without the rough settings: those
 * lists stand here before the click.
 */
function MakeFinal() {
  const { draft, shot, openSequence } = useShotWork();
  const origin = shot.madeFrom!;
  const made = finalOf(draft.plan, origin.plan);
  const list = (fields: readonly (keyof Plan)[]): string =>
    fields.map((field) => FIELD_WORD[field]).join(", ");
  return (
    <Box>
      <Button
        size="sm"
        onClick={() => {
          draft.changeVersion(
            origin.versionId,
            Object.fromEntries(made.takenOver.map((field) => [field, draft.plan[field]])),
          );
          openSequence({ version: origin.version });
        }}
      >
        Make it final, in {origin.version}
      </Button>
      <Text mt="1.5">
        {made.putBack.length === 0 ? (
          "Nothing is at a rough setting."
        ) : (
          <>
            Goes back to {origin.version}:{" "}
            {made.putBack
              .map(
                (field) =>
                  `${FIELD_WORD[field]} (${valueOf(draft.plan, field)} to ${valueOf(origin.plan, field)})`,
              )
              .join(", ")}
            .
          </>
        )}
      </Text>
      <Text>
        {made.takenOver.length === 0
          ? "Nothing else differs."
          : `Taken over from here: ${list(made.takenOver)}.`}
      </Text>
    </Box>
  );
}

/** A setting of a plan in a few words, for lists and comparisons. */
function valueOf(plan: Plan, field: keyof Plan): string {
  if (field === "rate") return rateText(plan.rate);
  if (field === "timeLine")
    return `${plan.timeLine.first}-${plan.timeLine.last} at ${rateText(plan.timeLine.rate)}`;
  return valueText(plan[field]);
}

/** Two revisions of this version, setting by setting. */
function Compare() {
  const { shot } = useShotWork();
  const revisions = useRevisions(nameOfShot(shot), shot.versionId, shot.revision);
  const [pair, setPair] = useState<readonly [string, string] | null>(null);
  if (revisions.data === undefined) return <Remark>Loading the revisions.</Remark>;
  const all = revisions.data.revisions;
  if (all.length < 2) return <Remark>This version has one revision; there is nothing to compare yet.</Remark>;
  const [a, b] = pair ?? [String(all[1]!.number), String(all[0]!.number)];
  const planOf = (number: string): Plan => all.find((r) => String(r.number) === number)!.plan;
  const differ = changedFields(planOf(a), planOf(b));
  const options = all.map(
    (r) => [String(r.number), `revision ${r.number}${r.who === null ? "" : `, ${r.who}`}`] as const,
  );
  return (
    <Box>
      <Flex gap="2" align="center" mb="1">
        <Text>Compare</Text>
        <Select label="Compare" value={a} options={options} onChange={(next) => setPair([next, b])} />
        <Text>with</Text>
        <Select label="with" value={b} options={options} onChange={(next) => setPair([a, next])} />
      </Flex>
      {differ.length === 0 ? (
        <Text color="softInk">They do not differ.</Text>
      ) : (
        <Table.Root size="sm" variant="line" aria-label="What differs">
          <Table.Body>
            {differ.map((field) => (
              <Table.Row key={field} bg="transparent">
                <Table.Cell px="0" color="softInk">
                  {FIELD_WORD[field]}
                </Table.Cell>
                <Table.Cell fontFamily="mono" fontSize="xs" overflowWrap="anywhere">
                  {valueOf(planOf(a), field)}
                </Table.Cell>
                <Table.Cell fontFamily="mono" fontSize="xs" overflowWrap="anywhere">
                  {valueOf(planOf(b), field)}
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      )}
    </Box>
  );
}
