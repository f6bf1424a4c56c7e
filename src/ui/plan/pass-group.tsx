"use client";
/**
 * Which pictures one render of a frame writes.
 * All passes come from one rendering: another pass costs the writing of its file and hardly any time.
 */
import { Box, Flex } from "@chakra-ui/react";
import { PASSES } from "@/core/plan/passes";
import { STAND_IN } from "@/core/plan/renderer";
import { useShotWork } from "../shot/shot-context";
import { EntryGroup, Remark, Toggle } from "../fields/fields";
import { PASS_TEXT } from "../shot/plan-words";

/** Beauty cannot be left out: saved samples and attempts are kept by it. */
export function PassGroup() {
  const { plan, offer, change } = useShotWork().draft;
  return (
    <EntryGroup
      field="passes"
      label="Each pass is a sequence of its own, in its own folder, with its own tally"
    >
      <Flex direction="column" gap="1" pt="1">
        {offer.passes.map((pass) => (
          <Toggle
            key={pass}
            isOn={plan.passes.includes(pass)}
            isDisabled={pass === "beauty"}
            onChange={(isOn) =>
              change({ passes: PASSES.filter((p) => (p === pass ? isOn : plan.passes.includes(p))) })
            }
          >
            <b>{pass}</b>{" "}
            <Box as="span" color="softInk">
              {PASS_TEXT[pass]}
            </Box>
          </Toggle>
        ))}
      </Flex>
      <Box mt="2">
        <Remark>
          A frame that is missing in one pass is rendered for that pass alone and never replaces a good
          beauty.
          {offer.passes.includes("denoised") &&
            offer.name === STAND_IN &&
            " With OpenEXR, the denoised twin can be made again from kept beauty, albedo, normal and depth without rendering."}
        </Remark>
      </Box>
    </EntryGroup>
  );
}
