"use client";
/** Both sides of handing over, for a sequence and for an edit: what is decided, and what comes and came of it. */
import { Button, Flex, Text } from "@chakra-ui/react";
import { type ReactNode, useState } from "react";
import type { WishBody } from "@/contract/handover";
import { ApiFailure, messageOf } from "../live/api";
import { useLive } from "../live/live-store";
import { Bench, Caption } from "../page/bench";
import { Refusal } from "../page/states";
import { FIRST_DRAFT, type HandoverDraft, HandoverForm, wishOfDraft } from "./handover-form";
import { HandoverList } from "./handover-list";
import type { MovieSubject } from "./movie-settings";
import { OutlookLines } from "./outlook-lines";
import { useHandoverDeeds, useHandovers, useOutlook } from "./use-handovers";

/** Messages by field, where the server said so. */
const faultsOf = (error: Error | null): Readonly<Record<string, string>> =>
  error instanceof ApiFailure ? Object.fromEntries(error.faults.map((f) => [f.field, f.message])) : {};

export function HandoverPane({
  at,
  frames,
  framesField,
  subject,
  isOn,
  isEdit = false,
}: {
  /** Address of its handovers. */
  readonly at: string;
  /** A phrase; blank while nothing is chosen. */
  readonly frames: string;
  readonly framesField?: ReactNode;
  readonly subject: MovieSubject;
  /** Whether somebody looks. */
  readonly isOn: boolean;
  readonly isEdit?: boolean;
}) {
  const [draft, setDraft] = useState<HandoverDraft>(FIRST_DRAFT);
  const wish = wishOfDraft(draft, frames);
  // A blank number is none: it is told before anything is asked.
  const hasBlank = JSON.stringify(wish, (_, value: unknown) =>
    Number.isNaN(value) ? "blank" : value,
  ).includes('"blank"');
  const isWhole = frames !== "" && !hasBlank;
  const outlook = useOutlook(at, wish as WishBody, isOn && isWhole);
  const { handovers, error } = useHandovers(at, isOn);
  const deeds = useHandoverDeeds(at);
  const { nodes, at: heardAt } = useLive();
  const isAwake = nodes.some((node) => node.state === "idle" || node.state === "at-work");
  const faults = faultsOf(outlook.error ?? deeds.make.error);
  const there = outlook.error === null ? outlook.data : undefined;
  return (
    <Bench
      left={
        <>
          {framesField}
          <HandoverForm draft={draft} onChange={setDraft} subject={subject} faults={faults} isEdit={isEdit} />
        </>
      }
      foot={
        <Flex gap="4" align="center" flexWrap="wrap">
          <Button
            disabled={!isWhole || there === undefined || there.fault !== null}
            loading={deeds.make.isPending}
            onClick={() => deeds.make.mutate(wish as WishBody)}
          >
            Hand over
          </Button>
          <Text color="softInk" fontSize="sm" minW="0" flex="1" overflowWrap="anywhere">
            {hasBlank
              ? "A number is blank."
              : there === undefined
                ? ""
                : there.fault !== null
                  ? "Patch what is wrong, or choose what stands in its place."
                  : there.name}
          </Text>
          {heardAt > 0 && !isAwake && (
            <Text color="ochre" fontSize="sm">
              No node is awake to make it: start one, or use <code>plain-tally export</code>.
            </Text>
          )}
          {deeds.make.error !== null && <Refusal>{messageOf(deeds.make.error)}</Refusal>}
        </Flex>
      }
      right={
        <>
          <Caption>What follows</Caption>
          {frames === "" ? (
            <Text color="softInk">Select frames on the band.</Text>
          ) : outlook.error !== null ? (
            <Refusal>{messageOf(outlook.error)}</Refusal>
          ) : there === undefined ? (
            <Text color="softInk">Looking at the frames.</Text>
          ) : (
            <OutlookLines outlook={there} wish={wish} />
          )}
          <Flex mt="5" />
          <Caption>Handed over</Caption>
          {error !== null ? (
            <Refusal>{messageOf(error)}</Refusal>
          ) : handovers === undefined ? (
            <Text color="softInk">Loading what was handed over.</Text>
          ) : (
            <HandoverList handovers={handovers} deeds={deeds} />
          )}
        </>
      }
    />
  );
}
