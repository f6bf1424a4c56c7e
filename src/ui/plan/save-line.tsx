"use client";
/**
 * What saving the plan would do, and the buttons that do it.
 * Three ways: nothing is lost by saving; good frames would be out of date; or the version's names and kind
 * are fixed and only a new version will do. Which one it is follows from the draft against the saved plan,
 * never from a click.
 */
import { largest } from "@/core/many";
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { unpackTally } from "@/core/tally/packed";
import { fixedChanges, type Plan, versionName } from "@/core/plan/plan";
import { passesMadeStale } from "@/core/plan/fingerprint";
import { intersection } from "@/core/frames/frame-set";
import type { SequenceView } from "@/contract/sequence-view";
import { isExternal } from "@/core/plan/renderer";
import { messageOf, nameOfShot } from "../live/api";
import { useScene } from "../live/queries";
import { Refusal } from "../page/states";
import { useShotWork, useSequenceNow } from "../shot/shot-context";
import { frames } from "../words";
import { useOpenVersion } from "../shot/use-open-version";
import { FIELD_WORD } from "../shot/plan-words";
import { SaveButtons } from "../shot/save-draft";

/** Good frames that saving would put out of date, by pass, and the passes that it leaves alone. */
function staleness(saved: Plan, plan: Plan, siblings: SequenceView["siblings"], isOtherScene: boolean) {
  const stale = passesMadeStale(saved, plan, isOtherScene);
  let good = 0;
  for (const sibling of siblings) {
    if (!stale.includes(sibling.pass)) continue;
    const tally = unpackTally(sibling.tally);
    good += intersection(tally.results.good, tally.asked).count;
  }
  return { good, kept: saved.passes.filter((pass) => !stale.includes(pass) && plan.passes.includes(pass)) };
}

/** Another scene is another file with other content; of a renderer's own scenes only the file is known. */
function useIsOtherScene(saved: Plan, plan: Plan): boolean {
  const name = nameOfShot(useShotWork().shot);
  const [before, after] = [saved, plan].map((p) => (isExternal(p) ? "" : p.scene)) as [string, string];
  const [seenBefore, seenAfter] = [useScene(name, before).data, useScene(name, after).data];
  if (saved.renderer !== plan.renderer) return true;
  if (saved.scene === plan.scene) return false;
  return seenBefore === undefined || seenBefore.version !== seenAfter?.version;
}

/**
 * Says before saving how many good frames would be out of date, by pass. Once a version holds files, its
 * names and kind are fixed, and the way on is the next version.
 */
export function SaveLine() {
  const { draft, shot } = useShotWork();
  const { view } = useSequenceNow();
  const { plan, changed, read } = draft;
  const open = useOpenVersion();
  const isOtherScene = useIsOtherScene(shot.plan, plan);
  const { purpose } = shot.sequence;
  const own = versionName(shot.sequence);
  if (changed.length === 0)
    return (
      <Text color="softInk">
        This is revision {shot.revision} of {own} as saved. Runs use it.
      </Text>
    );
  // Names and kind of file: they decide what lies in the folder.
  const fixed = shot.hasFiles ? fixedChanges(shot.plan, plan) : [];
  const next = versionName({
    purpose,
    version: largest(shot.choices.filter((c) => c.purpose === purpose).map((c) => c.version)) + 1,
  });
  const { good, kept } = staleness(shot.plan, plan, view.siblings, isOtherScene);
  const openNext = (
    <Button
      size="sm"
      variant={fixed.length > 0 ? "solid" : "outline"}
      disabled={read === null}
      loading={open.isPending}
      onClick={() =>
        open.mutate({ plan, purpose, fromRevisionId: null }, { onSuccess: () => draft.putBack() })
      }
    >
      Open {next} with this plan
    </Button>
  );
  return (
    <Box>
      <Text mb="1">
        Changed since revision {shot.revision}: {changed.map((field) => FIELD_WORD[field]).join(", ")}.{" "}
        <Box as="span" color="softInk">
          Not saved; this browser keeps it until it is saved or dropped.
          {draft.basedOn !== null && draft.basedOn !== shot.revision
            ? ` It was begun on revision ${draft.basedOn}; revision ${shot.revision} was saved since.`
            : ""}
        </Box>
      </Text>
      {fixed.length > 0 ? (
        <>
          <Text mb="1" color="ochre">
            {own} holds files, so its {fixed.map((field) => FIELD_WORD[field]).join(" and ")} cannot change
            any more: two kinds of files in one folder could not be told apart.
          </Text>
          <Flex gap="4" align="center">
            {openNext}
            <Button size="sm" variant="plain" onClick={() => draft.putBack(fixed)}>
              Put {fixed.length === 1 ? "it" : "them"} back
            </Button>
          </Flex>
        </>
      ) : good > 0 ? (
        <>
          <Text mb="1" color="plum" role="alert">
            {frames(good)} that {good === 1 ? "is" : "are"} good would be out of date
            {kept.length > 0 ? `; ${kept.join(", ")} ${kept.length === 1 ? "is" : "are"} not affected` : ""}.
          </Text>
          <Flex gap="4" align="center" flexWrap="wrap">
            <Button
              size="sm"
              variant="outline"
              disabled={read === null}
              loading={draft.isSaving}
              onClick={() => void draft.save()}
            >
              Keep {own}, mark them stale
            </Button>
            {openNext}
            <Button size="sm" variant="plain" onClick={() => draft.putBack()}>
              Put the change back
            </Button>
          </Flex>
        </>
      ) : (
        <SaveButtons />
      )}
      {open.error !== null && <Refusal>{messageOf(open.error)}</Refusal>}
      {draft.saveTrouble !== null && <Refusal>{draft.saveTrouble.message}</Refusal>}
    </Box>
  );
}
