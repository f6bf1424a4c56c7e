"use client";
/** Frames a second, and how files are numbered against the scene. */
import { isSameRate, type Rate, rateText } from "@/core/timing/rate";
import { retimePhrase } from "@/core/plan/scene-time";
import { useShotWork } from "../shot/shot-context";
import { Entry, EntryGroup, NumberInput, Two } from "../fields/fields";
import { RateSelect } from "../fields/rate-select";

/**
 * The rate keeps the duration: the frames are counted anew. The offset keeps the scene frames: the files are
 * numbered anew.
 */
export function RateField() {
  const {
    draft: { plan, change },
  } = useShotWork();
  const retime = (rate: Rate): void =>
    change({
      rate,
      frames: retimePhrase(plan.frames, plan, { ...plan, rate }),
    });
  return (
    <Two>
      <EntryGroup
        field="rate"
        label="Frames a second"
        hint={
          isSameRate(plan.rate, plan.timeLine.rate)
            ? "the scene's own rate"
            : `the scene has ${rateText(plan.timeLine.rate)}: the duration stays, times between frames are rendered`
        }
      >
        <RateSelect rate={plan.rate} onRate={retime} />
      </EntryGroup>
      <Entry
        field="offset"
        label="Offset: file number less scene frame"
        hint={
          plan.offset === 0
            ? undefined
            : `scene ${plan.timeLine.first} is file ${plan.timeLine.first + plan.offset}`
        }
      >
        <NumberInput
          step={1}
          value={plan.offset}
          onChange={(offset) =>
            change({
              offset,
              ...(Number.isInteger(offset) && Number.isInteger(plan.offset)
                ? { frames: retimePhrase(plan.frames, plan, { ...plan, offset }) }
                : {}),
            })
          }
        />
      </Entry>
    </Two>
  );
}
