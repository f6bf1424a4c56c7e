"use client";
/**
 * How large: trade sizes and free ones, the scale in percent with what it means in pixels.
 * Width and height are the final's; the scale says what of it is rendered now.
 */
import { Button, Flex } from "@chakra-ui/react";
import { scaledSize } from "@/core/plan/picture";
import { useShotWork } from "../shot/shot-context";
import { count } from "../words";
import { EntryGroup, NumberField, NumberInput, Remark, Select, Two } from "../fields/fields";

/** Sizes with a name in the trade. */
const TRADE_SIZES = [
  [720, 540, "540, four by three"],
  [960, 540, "540"],
  [720, 576, "SD, 25 a second"],
  [720, 480, "SD, 29.97 a second"],
  [1280, 720, "HD 720"],
  [1920, 1080, "HD 1080"],
  [3840, 2160, "Ultra HD"],
  [2048, 858, "2K scope"],
  [1998, 1080, "2K flat"],
  [4096, 1716, "4K scope"],
  [3996, 2160, "4K flat"],
  [1080, 1080, "square"],
  [2048, 2048, "square 2K"],
  [1080, 1920, "upright"],
] as const;

/** As a share of width and height, not of pixels. */
const PERCENTS = [25, 50, 75, 100] as const;

/** What a scale means for the number of pixels, in words. */
function shareText(scale: number): string {
  const share = (scale / 100) ** 2;
  if (scale === 100) return "every pixel";
  if (scale === 50) return "50 % is a quarter of the pixels";
  return share < 1
    ? `${scale} % is ${(share * 100).toFixed(0)} % of the pixels`
    : `${share.toFixed(1)} times the pixels`;
}

/** The scale is apart from the size, so that a rough at half size keeps the shape of its final. */
export function SizeGroup() {
  const { plan, change } = useShotWork().draft;
  const key = `${plan.width}x${plan.height}`;
  const known = TRADE_SIZES.map(([w, h, name]) => [`${w}x${h}`, `${name}, ${w} x ${h}`] as const);
  const { width, height } = scaledSize(plan);
  return (
    <Flex direction="column" gap="2.5">
      <Select
        label="Trade size"
        value={known.some(([k]) => k === key) ? key : "free"}
        options={[["free", "a size of your own"], ...known]}
        onChange={(next) => {
          const size = TRADE_SIZES.find(([w, h]) => `${w}x${h}` === next);
          if (size !== undefined) change({ width: size[0], height: size[1] });
        }}
      />
      <Two>
        <NumberField field="width" label="Width, pixels" />
        <NumberField field="height" label="Height, pixels" />
      </Two>
      <Two>
        <EntryGroup field="scale" label="Scale, percent" hint={shareText(plan.scale)}>
          <Flex gap="2" w="full">
            <NumberInput
              label="Scale, percent"
              name="scale"
              value={plan.scale}
              onChange={(scale) => change({ scale })}
            />
            {PERCENTS.map((percent) => (
              <Button
                key={percent}
                size="xs"
                variant="plain"
                aria-pressed={plan.scale === percent}
                onClick={() => change({ scale: percent })}
              >
                {percent}
              </Button>
            ))}
          </Flex>
        </EntryGroup>
        <NumberField
          field="pixelAspect"
          label="Pixel aspect"
          hint={plan.pixelAspect === 1 ? "square pixels" : "pixels are shown this much wider than high"}
        />
      </Two>
      {Number.isFinite(width * height) && (
        <Remark>
          Rendered at {width} x {height}: {count(width * height)} pixels.
        </Remark>
      )}
    </Flex>
  );
}
