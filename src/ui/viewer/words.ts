/** Texts of the viewer. */
import type { Background, ChannelShown, View } from "@/core/playback/shown-as";
import type { Alpha } from "@/core/image/file-format";
import type { Ends } from "@/core/playback/play-clock";
import { count, size } from "../words";
import type { Arrangement } from "./arrangement";
import type { Fold } from "./folds";
import type { PlayerSnapshot } from "./player";
import type { MissingWay } from "./reel";
import { BUDGETS, type Scale } from "./viewing";

/** In the order in which they are offered. */
export type Options<K extends string> = readonly (readonly [key: K, text: string])[];

export const ENDS_TEXT: Options<Ends> = [
  ["loop", "round and round"],
  ["back-and-forth", "back and forth"],
  ["once", "once"],
];

export const EVERY_TEXT: Options<string> = [
  ["1", "every frame"],
  ["2", "every 2nd"],
  ["3", "every 3rd"],
  ["4", "every 4th"],
  ["8", "every 8th"],
];

export const HOLD_TEXT: Options<string> = [
  ["0", "no hold"],
  ["0.5", "ends held 1/2 s"],
  ["1", "ends held 1 s"],
  ["2", "ends held 2 s"],
];

export const MISSING_TEXT: Options<MissingWay> = [
  ["gap", "gaps shown as gaps"],
  ["hold", "gaps: the one before"],
  ["skip", "gaps left out"],
];

const scaleText = (scale: Scale): string =>
  scale === "shown" ? "as large as shown" : scale === 1 ? "whole pictures" : `1/${scale} of the size`;
export const SCALE_TEXT: Options<string> = (["shown", 1, 2, 4, 8] as const).map((scale) => [
  String(scale),
  scaleText(scale),
]);

export const BUDGET_TEXT: Options<string> = BUDGETS.map((bytes) => [
  String(bytes),
  `up to ${size(bytes)} of memory`,
]);

/** Null: as the files are read. */
export const VIEW_TEXT: Readonly<Record<View, string>> = {
  plain: "numbers as they are",
  srgb: "light through sRGB",
  film: "light through the film curve",
  depth: "metres: near is white",
  direction: "directions: 0 is grey",
};

export const ALPHA_TEXT: Readonly<Record<Alpha, string>> = {
  none: "alpha left out",
  straight: "alpha beside colour",
  premultiplied: "alpha in colour",
};

export const CHANNEL_TEXT: Options<ChannelShown> = [
  ["colour", "colour"],
  ["red", "red alone"],
  ["green", "green alone"],
  ["blue", "blue alone"],
  ["alpha", "alpha alone"],
  ["luminance", "luminance"],
];

export const BACKGROUND_TEXT: Options<Background> = [
  ["checker", "on squares"],
  ["grey", "on grey"],
  ["black", "on black"],
  ["white", "on white"],
  ["own", "on a colour"],
  ["picture", "on a picture"],
];

export const ARRANGEMENT_TEXT: Options<Arrangement> = [
  ["wipe", "wipe"],
  ["beside", "side by side"],
  ["blink", "blink"],
  ["difference", "difference"],
];

/** How fast it is shown, what was not shown, and what stands in memory. */
export function playText(now: PlayerSnapshot, rate: string): string {
  const shown =
    now.direction === 0
      ? null
      : now.shownRate === null
        ? `playing at ${rate} a second`
        : `${now.shownRate.toFixed(1)} of ${rate} pictures a second shown`;
  const dropped = now.dropped > 0 ? `${count(now.dropped)} dropped` : now.shown > 0 ? "none dropped" : null;
  const all = now.pictures === null ? "" : ` of ${count(now.pictures)}`;
  const there = `${count(now.loaded.length)}${all} in memory, ${size(now.bytes)}`;
  const window = now.isWindow ? "they do not all fit: loaded as they come" : null;
  return [shown, dropped, there, window].filter((part) => part !== null).join(" · ");
}

/** Buttons that open a line of settings. */
export const FOLD_TEXT: Readonly<Record<Fold, { readonly label: string; readonly tip: string }>> = {
  playing: {
    label: "Playing",
    tip: "Which frames play, how fast, what happens at the ends and at gaps, how large, in how much memory",
  },
  seeing: { label: "Seeing", tip: "Exposure, curve, channel, alpha and background" },
  comparing: {
    label: "Comparing",
    tip: "Beside other versions, passes and shots, or the files from before",
  },
  strip: { label: "Strip", tip: "Small pictures of the frames around this one" },
};
