"use client";
/** Hand over: the last step, from frames that are safe. */
import { Button, Flex, Input } from "@chakra-ui/react";
import { isLinearFile } from "@/core/image/file-format";
import { formatPhrase } from "@/core/frames/phrase";
import { todoOf } from "@/core/tally/tally";
import { versionName } from "@/core/plan/plan";
import { Line } from "../page/bench";
import { OneOf } from "../page/choices";
import { Copy } from "../page/copy";
import { usePointed, useSequenceNow, useShotWork } from "../shot/shot-context";
import { frames as framesText } from "../words";
import { HandoverPane } from "./handover-pane";

export interface HandoverScope {
  readonly of: "all" | "selection" | "phrase";
  readonly phrase: string;
}
export const WHOLE_SEQUENCE: HandoverScope = { of: "all", phrase: "good" };

export function HandoverBench({
  scope,
  onScope,
}: {
  /** Kept by the page, so that it is the same when one comes back. */
  readonly scope: HandoverScope;
  readonly onScope: (scope: HandoverScope) => void;
}) {
  const { shot, bench, openBench } = useShotWork();
  const { view, tally } = useSequenceNow();
  const { selection } = usePointed();
  const phrase =
    scope.of === "all" ? "all" : scope.of === "selection" ? formatPhrase(selection.set) : scope.phrase.trim();
  const todo = formatPhrase(todoOf(tally));
  return (
    <HandoverPane
      at={`/api/sequences/${view.id}/handovers`}
      frames={phrase}
      isOn={bench === "handover"}
      subject={{
        rate: shot.plan.rate,
        hasAlpha: shot.plan.alpha !== "none",
        isLinear: isLinearFile(shot.plan.file),
        hasSound: shot.sound !== null,
        others: shot.choices
          .filter((c) => c.id !== view.id)
          .map((c) => ({ id: c.id, name: `${versionName(c)} ${c.camera} ${c.pass}` })),
      }}
      framesField={
        <>
          <OneOf
            label="Frames"
            value={scope.of}
            onChange={(of) => onScope({ ...scope, of })}
            options={[
              { key: "all", text: "All frames of the plan", figure: framesText(tally.asked.count) },
              {
                key: "selection",
                text: "What is selected on the band",
                figure: framesText(selection.set.count),
              },
              {
                key: "phrase",
                text: (
                  <Flex as="span" gap="2" align="center">
                    These{" "}
                    <Input
                      size="xs"
                      w="200px"
                      fontFamily="mono"
                      bg="paper"
                      aria-label="Frames to hand over"
                      value={scope.phrase}
                      onFocus={() => onScope({ ...scope, of: "phrase" })}
                      onChange={(event) => onScope({ of: "phrase", phrase: event.target.value })}
                    />
                  </Flex>
                ),
              },
            ]}
          />
          {todo !== "" && (
            <Line label="Patch list">
              {todo} <Copy text={todo} what="patch list" />
            </Line>
          )}
          {shot.plan.watched === null && (
            <Line label="Hand-out files for machines that are not connected">
              <Button size="xs" variant="plain" onClick={() => openBench("run")}>
                made on Run
              </Button>
            </Line>
          )}
        </>
      }
    />
  );
}
