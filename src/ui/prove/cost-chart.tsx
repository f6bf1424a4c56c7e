"use client";
/** Seconds a frame along the shot, on the scale of the band, with the frames that were timed. */
import { inkVariable } from "../theme/ink";
import { Box } from "@chakra-ui/react";
import { useMemo } from "react";
import { CartesianGrid, ComposedChart, Line, ResponsiveContainer, Scatter, XAxis, YAxis } from "recharts";
import { duration } from "../words";
import type { PlanEstimate } from "./use-estimate";

/** Points of the line: more are not seen. */
const POINTS = 240;
/** Pixels: the bench has little room, and the shape is what counts. */
const HEIGHT = 92;

/** Until it has been measured; a chart without a size complains in the console. */
const SIZE_UNKNOWN = { width: 320, height: HEIGHT };

/** A colour of the theme, for what draws without Chakra. */

/**
 * The line is what the model expects of each frame, the dots are frames that were timed, brought to the
 * plan's size and samples: where a dot lies far from the line, another proof is worth its time.
 */
export function CostChart({ estimate: { estimate, model, request } }: { readonly estimate: PlanEstimate }) {
  const data = useMemo(() => {
    const { frames, render, startup, denoise, write } = estimate.costs;
    const aside = startup + denoise + write;
    const points = new Map<number, { frame: number; seconds?: number; timed?: number }>();
    const stride = Math.max(1, Math.floor(frames.length / POINTS));
    for (let i = 0; i < frames.length; i += stride)
      points.set(frames[i]!, { frame: frames[i]!, seconds: render[i]! + aside });
    const amount = request.target.pixels * request.target.samples;
    model.at.forEach((frame, i) =>
      points.set(frame, {
        ...(points.get(frame) ?? { frame }),
        timed: model.fixed + model.perSample[i]! * amount + aside,
      }),
    );
    return [...points.values()].sort((a, b) => a.frame - b.frame);
  }, [estimate, model, request]);
  const tick = { fill: inkVariable("softInk"), fontSize: 12 };
  return (
    <Box h={`${HEIGHT}px`} role="img" aria-label="Seconds a frame along the shot">
      <ResponsiveContainer width="100%" height={HEIGHT} minWidth={0} initialDimension={SIZE_UNKNOWN}>
        <ComposedChart data={data} margin={{ top: 4, right: 8, bottom: 0, left: 0 }}>
          <CartesianGrid stroke={inkVariable("rule")} vertical={false} />
          <XAxis
            dataKey="frame"
            type="number"
            domain={["dataMin", "dataMax"]}
            tick={tick}
            stroke={inkVariable("rule")}
            tickCount={7}
            height={18}
            allowDecimals={false}
          />
          <YAxis
            width={56}
            tick={tick}
            stroke={inkVariable("rule")}
            tickCount={3}
            tickFormatter={(seconds: number) => duration(seconds)}
            domain={[0, "auto"]}
          />
          <Line
            dataKey="seconds"
            stroke={inkVariable("petrol")}
            dot={false}
            strokeWidth={1.5}
            isAnimationActive={false}
            connectNulls
          />
          <Scatter dataKey="timed" fill={inkVariable("ink")} isAnimationActive={false} shape="circle" />
        </ComposedChart>
      </ResponsiveContainer>
    </Box>
  );
}
