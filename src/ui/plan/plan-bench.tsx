"use client";
/**
 * Plan: everything that decides what the pixels and the files are, in groups with their values in sight, one
 * open.
 */
import { Box, Tabs, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Bench } from "../page/bench";
import { useShotWork } from "../shot/shot-context";
import { PlanConsequences } from "./consequences";
import { FileGroup } from "./file-group";
import { FramesGroup } from "./frames-group";
import { type GroupName, groupsShown, groupSummary } from "./groups";
import { MoveGroup } from "./move-group";
import { OptionsGroup } from "./options-group";
import { PassGroup } from "./pass-group";
import { PictureGroup } from "./picture-group";
import { PresetGroup } from "./preset-group";
import { QualityGroup } from "./quality-group";
import { RevisionGroup } from "./revision-group";
import { SaveLine } from "./save-line";
import { SceneGroup } from "./scene-group";
import { SizeGroup } from "./size-group";

/** Each group draws its own fields; the list of groups says which settings they are. */
const FIELDS: Readonly<Record<GroupName, () => React.ReactNode>> = {
  scene: SceneGroup,
  frames: FramesGroup,
  size: SizeGroup,
  picture: PictureGroup,
  quality: QualityGroup,
  options: OptionsGroup,
  passes: PassGroup,
  files: FileGroup,
  move: MoveGroup,
  presets: PresetGroup,
  revisions: RevisionGroup,
};

/** Which group is open is this bench's own; the draft is the shot page's and outlives it. */
export function PlanBench() {
  const [open, setOpen] = useState<GroupName>("scene");
  return (
    <Bench
      left={<PlanGroups open={open} onOpen={setOpen} />}
      foot={<SaveLine />}
      right={<PlanConsequences group={open} onOpen={setOpen} />}
    />
  );
}

/**
 * A group's line tells its values while it is closed, in the colour of what is the matter: brick for a fault,
 * petrol for a change.
 */
function PlanGroups({
  open,
  onOpen,
}: {
  /** Also decides what stands on the right. */
  readonly open: GroupName;
  readonly onOpen: (name: GroupName) => void;
}) {
  const { draft, shot } = useShotWork();
  const groups = groupsShown(draft.offer, draft.faults);
  return (
    <Tabs.Root
      orientation="vertical"
      value={open}
      onValueChange={(details) => onOpen(details.value as GroupName)}
      variant="plain"
      size="sm"
      lazyMount
    >
      <Tabs.List
        w="206px"
        ml="-2"
        flexShrink={0}
        aria-label="Groups of the plan"
        borderRightWidth="1px"
        borderColor="rule"
        pr="2"
      >
        {groups.map(({ name, title, fields }) => {
          const isWrong = fields.some((field) => draft.faults[field] !== undefined);
          const isChanged = fields.some((field) => draft.changed.includes(field));
          return (
            <Tabs.Trigger
              key={name}
              value={name}
              h="25px"
              px="2"
              w="full"
              justifyContent="flex-start"
              gap="2"
              color="softInk"
              fontWeight="400"
              _selected={{ bg: "paper", color: "ink", fontWeight: "700" }}
            >
              <Text flexShrink={0} {...(isWrong ? { color: "brick" } : isChanged ? { color: "petrol" } : {})}>
                {title}
                {isChanged ? " *" : ""}
              </Text>
              <Text
                flex="1"
                truncate
                textAlign="right"
                fontSize="12px"
                fontWeight="400"
                color={isWrong ? "brick" : "softInk"}
              >
                {isWrong ? "needs mending" : groupSummary(name, draft.plan, shot)}
              </Text>
            </Tabs.Trigger>
          );
        })}
      </Tabs.List>
      {groups.map(({ name, title }) => {
        const Fields = FIELDS[name];
        return (
          <Tabs.Content key={name} value={name} py="0" pl="4" flex="1" minW="0">
            <Box role="group" aria-label={title}>
              <Fields />
            </Box>
          </Tabs.Content>
        );
      })}
    </Tabs.Root>
  );
}
