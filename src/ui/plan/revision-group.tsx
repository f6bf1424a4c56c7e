"use client";
/** Rough, final and next versions, and two revisions compared setting by setting. */
import { Box, Button, Flex, Table, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { RevisionView } from "@/contract/shot-view";
import { changedFields, type Plan } from "@/core/plan/plan";
import { type Shading, SHADINGS } from "@/core/plan/picture";
import { isExternal } from "@/core/plan/renderer";
import { finalOf, roughOf } from "@/core/plan/rough";
import { isSameRate, parseRate, rateText } from "@/core/timing/rate";
import { messageOf, nameOfShot, remove } from "../live/api";
import { useRevisions } from "../live/queries";
import { queryKeys } from "../live/query-keys";
import { Refusal } from "../page/states";
import { useShotWork } from "../shot/shot-context";
import { Remark, Select } from "../fields/fields";
import { useOpenVersion } from "../shot/use-open-version";
import { FIELD_WORD, nextVersionName, SHADING_TEXT, valueText } from "../shot/plan-words";

/** A rough that was made from a final leads back to it; any other version leads to a rough. */
export function RevisionGroup() {
  const { shot } = useShotWork();
  return (
    <Flex direction="column" gap="3">
      {shot.sequence.purpose === "rough" && shot.madeFrom !== null ? <MakeFinal /> : <MakeRough />}
      <NextVersion />
      <Compare key={shot.versionId} />
    </Flex>
  );
}

const SHADING_REMARK: Readonly<Record<Shading, string>> = {
  full: "Full shading",
  direct: "Direct light only",
  flat: "Colours without light",
  line: "Lines on paper",
};

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
  const [shading, setShading] = useState<Shading>("direct");
  return (
    <Box>
      <Flex gap="3" rowGap="1.5" align="center" flexWrap="wrap" mb="1">
        <Button
          size="sm"
          variant="outline"
          loading={open.isPending}
          onClick={() =>
            open.mutate({
              plan: roughOf(plan, chosen, shading),
              purpose: "rough",
              fromRevisionId: shot.revisionId,
            })
          }
        >
          Open a rough version
        </Button>
        {!isExternal(plan) && (
          <Flex w="190px" flexShrink={0}>
            <Select<Shading>
              label="Shading of the rough version"
              value={shading}
              options={SHADINGS.filter((s) => s !== "full").map((s) => [s, SHADING_TEXT[s]] as const)}
              onChange={setShading}
            />
          </Flex>
        )}
        <Flex w="150px" flexShrink={0}>
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
        {isExternal(plan) ? "" : `${SHADING_REMARK[shading]}, `}half the size, 2 samples, JPEG
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

/** Another try beside this one; and away with one that nothing was made of. */
function NextVersion() {
  const { draft, shot, openSequence } = useShotWork();
  const open = useOpenVersion();
  const client = useQueryClient();
  const own = shot.versions.find((v) => v.id === shot.versionId)!;
  const others = shot.versions.filter((v) => v.id !== shot.versionId);
  const takeOut = useMutation({
    mutationFn: () => remove(`/api/versions/${shot.versionId}`),
    onSuccess: async () => {
      openSequence({ version: others.at(-1)!.name });
      await client.invalidateQueries({ queryKey: queryKeys.shot(nameOfShot(shot)) });
    },
  });
  return (
    <Box>
      <Flex gap="3" align="center">
        <Button
          size="sm"
          variant="outline"
          loading={open.isPending}
          onClick={() =>
            open.mutate({
              plan: draft.plan,
              purpose: shot.sequence.purpose,
              fromRevisionId: shot.madeFrom?.revisionId ?? null,
            })
          }
        >
          Open {nextVersionName(shot)} with {draft.changed.length > 0 ? "these settings" : "the same plan"}
        </Button>
        {others.length > 0 && !shot.hasFiles && (
          <Button size="xs" variant="plain" loading={takeOut.isPending} onClick={() => takeOut.mutate()}>
            Take {own.name} out again
          </Button>
        )}
      </Flex>
      <Remark>In a folder of its own; {own.name} and all its files stay as they are.</Remark>
      {open.error !== null && <Refusal>{messageOf(open.error)}</Refusal>}
      {takeOut.error !== null && <Refusal>{messageOf(takeOut.error)}</Refusal>}
    </Box>
  );
}

/** A revision of a version of the shot. */
interface Side {
  readonly versionId: number;
  /** Null: its newest. */
  readonly revision: number | null;
}

/** The revision of a side, once its version's are read. */
function useSide({ versionId, revision }: Side): {
  readonly revisions: readonly RevisionView[];
  readonly shown: RevisionView | undefined;
} {
  const { shot } = useShotWork();
  const { data } = useRevisions(
    nameOfShot(shot),
    versionId,
    versionId === shot.versionId ? shot.revision : 0,
  );
  const revisions = data?.revisions ?? [];
  return { revisions, shown: revisions.find((r) => r.number === revision) ?? revisions[0] };
}

/** Chooses a revision of any version of the shot. */
function SideChoice({
  label,
  side,
  onChange,
}: {
  readonly label: string;
  readonly side: Side;
  readonly onChange: (side: Side) => void;
}) {
  const { shot } = useShotWork();
  const { revisions, shown } = useSide(side);
  return (
    <>
      {shot.versions.length > 1 && (
        <Box w="92px">
          <Select
            label={`${label}, version`}
            value={String(side.versionId)}
            options={shot.versions.map((v) => [String(v.id), v.name] as const)}
            onChange={(id) => onChange({ versionId: Number(id), revision: null })}
          />
        </Box>
      )}
      <Select
        label={`${label}, revision`}
        value={shown === undefined ? "" : String(shown.number)}
        options={revisions.map(
          (r) => [String(r.number), `revision ${r.number}${r.who === null ? "" : `, ${r.who}`}`] as const,
        )}
        onChange={(number) => onChange({ ...side, revision: Number(number) })}
      />
    </>
  );
}

/** Two revisions of the shot, of one version or of two, setting by setting. */
function Compare() {
  const { shot } = useShotWork();
  const previous = shot.versions.filter((v) => v.id < shot.versionId).at(-1);
  // What one would ask first: what has changed since the last revision, or against the version before.
  const [a, setA] = useState<Side>(
    shot.revision > 1 || previous === undefined
      ? { versionId: shot.versionId, revision: Math.max(1, shot.revision - 1) }
      : { versionId: previous.id, revision: null },
  );
  const [b, setB] = useState<Side>({ versionId: shot.versionId, revision: null });
  const [left, right] = [useSide(a), useSide(b)];
  if (shot.versions.length === 1 && right.revisions.length < 2)
    return (
      <Remark>
        {right.shown === undefined
          ? "Loading the revisions."
          : "This version has one revision; there is nothing to compare yet."}
      </Remark>
    );
  const differ =
    left.shown === undefined || right.shown === undefined
      ? null
      : changedFields(left.shown.plan, right.shown.plan);
  return (
    <Box>
      <Flex gap="2" align="center" mb="1" flexWrap="wrap">
        <Text>Compare</Text>
        <SideChoice label="Compare" side={a} onChange={setA} />
        <Text>with</Text>
        <SideChoice label="with" side={b} onChange={setB} />
      </Flex>
      {differ === null ? (
        <Remark>Loading the revisions.</Remark>
      ) : differ.length === 0 ? (
        <Text color="softInk">They do not differ.</Text>
      ) : (
        <Table.Root size="sm" variant="line" aria-label="What differs">
          <Table.Body>
            {differ.map((field) => (
              <Table.Row key={field} bg="transparent">
                <Table.Cell px="0" color="softInk">
                  {FIELD_WORD[field]}
                </Table.Cell>
                {[left, right].map(({ shown }, i) => (
                  <Table.Cell key={i} fontFamily="mono" fontSize="xs" overflowWrap="anywhere">
                    {valueOf(shown!.plan, field)}
                  </Table.Cell>
                ))}
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      )}
    </Box>
  );
}
