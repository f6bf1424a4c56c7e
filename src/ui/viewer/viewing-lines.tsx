"use client";
/** How it plays and how pictures are seen: a line each, changed while it plays. */
import { Box, Button, Input } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { ALPHAS } from "@/core/image/file-format";
import {
  type Colour,
  GAMMA,
  PLAIN_LOOK,
  type Reading,
  STEP_STOPS,
  STOPS,
  VIEWS,
} from "@/core/playback/shown-as";
import { isSameRate, parseRate, type Rate, rateText, TRADE_RATES } from "@/core/timing/rate";
import { Select, Toggle } from "../fields/fields";
import { Tip } from "../theme/tip";
import { BoundedNumber } from "./bounded-number";
import { BackdropChoice } from "./backdrop-choice";
import type { Backdrop } from "./use-backdrop";
import type { Scale, Viewing } from "./viewing";
import {
  ALPHA_TEXT,
  BACKGROUND_TEXT,
  BUDGET_TEXT,
  CHANNEL_TEXT,
  ENDS_TEXT,
  EVERY_TEXT,
  HOLD_TEXT,
  MISSING_TEXT,
  SCALE_TEXT,
  VIEW_TEXT,
} from "./words";
import { SettingsLine } from "./settings-line";

interface LineProps {
  readonly viewing: Viewing;
  readonly onViewing: (change: Partial<Viewing>) => void;
}

/** As wide as its longest choice. */
function Choice({ children }: { readonly children: ReactNode }) {
  return (
    <Box w="auto" css={{ "& select": { paddingInlineEnd: "6" } }}>
      {children}
    </Box>
  );
}

/** Range, rate, ends, gaps, size and memory. */
export function PlayLine({
  viewing,
  onViewing,
  planRate,
  hasSound,
}: LineProps & {
  readonly planRate: Rate;
  readonly hasSound: boolean;
}) {
  const rates = TRADE_RATES.some((rate) => isSameRate(rate, planRate))
    ? TRADE_RATES
    : [planRate, ...TRADE_RATES];
  return (
    <SettingsLine label="How it plays">
      <Choice>
        <Select
          label="Which frames play"
          value={String(viewing.every)}
          options={EVERY_TEXT}
          onChange={(every) => onViewing({ every: Number(every) })}
        />
      </Choice>
      <Choice>
        <Select
          label="Pictures a second"
          value={viewing.rate === null ? "plan" : rateText(viewing.rate)}
          options={[
            ["plan", `${rateText(planRate)} a second, as planned`],
            ...rates
              .filter((rate) => !isSameRate(rate, planRate))
              .map((rate) => [rateText(rate), `${rateText(rate)} a second`] as const),
          ]}
          onChange={(text) => onViewing({ rate: text === "plan" ? null : parseRate(text) })}
        />
      </Choice>
      <Choice>
        <Select
          label="At the ends"
          value={viewing.ends}
          options={ENDS_TEXT}
          onChange={(ends) => onViewing({ ends })}
        />
      </Choice>
      <Choice>
        <Select
          label="Held at the ends"
          value={String(viewing.holdSeconds)}
          options={HOLD_TEXT}
          onChange={(seconds) => onViewing({ holdSeconds: Number(seconds) })}
        />
      </Choice>
      <Choice>
        <Select
          label="Where a frame is missing"
          value={viewing.missing}
          options={MISSING_TEXT}
          onChange={(missing) => onViewing({ missing })}
        />
      </Choice>
      <Choice>
        <Select
          label="Size of pictures in motion"
          value={String(viewing.scale)}
          options={SCALE_TEXT}
          onChange={(scale) => onViewing({ scale: scale === "shown" ? scale : (Number(scale) as Scale) })}
        />
      </Choice>
      <Choice>
        <Select
          label="Memory"
          value={String(viewing.budget)}
          options={BUDGET_TEXT}
          onChange={(bytes) => onViewing({ budget: Number(bytes) })}
        />
      </Choice>
      {hasSound && (
        <Toggle isOn={viewing.isHeard} onChange={(isHeard) => onViewing({ isHeard })}>
          Sound
        </Toggle>
      )}
    </SettingsLine>
  );
}

/** As the browser's colour field has it: #rrggbb. */
const hexOf = (colour: Colour): string =>
  `#${colour
    .map((part) =>
      Math.round(part * 255)
        .toString(16)
        .padStart(2, "0"),
    )
    .join("")}`;

function colourOfHex(hex: string): Colour {
  const part = (at: number): number => parseInt(hex.slice(at, at + 2), 16) / 255;
  return [part(1), part(3), part(5)];
}

/** Exposure, curve, channel, alpha, background. */
export function PictureLine({
  viewing,
  onViewing,
  reading,
  backdrop,
  hasNeighbours,
}: LineProps & {
  readonly reading: Reading;
  readonly backdrop: Backdrop;
  /** The frames beside can be shown through it. */
  readonly hasNeighbours: boolean;
}) {
  const { look } = viewing;
  const change = (next: Partial<typeof look>): void => onViewing({ look: { ...look, ...next } });
  const isPlain = JSON.stringify(look) === JSON.stringify(PLAIN_LOOK);
  return (
    <SettingsLine label="How it is seen">
      <BoundedNumber
        label="Exposure in stops"
        value={look.stops}
        step={STEP_STOPS}
        bounds={STOPS}
        onChange={(stops) => change({ stops })}
      />
      <BoundedNumber
        label="Gamma"
        value={look.gamma}
        step={0.1}
        bounds={GAMMA}
        onChange={(gamma) => change({ gamma })}
      />
      <Choice>
        <Select
          label="What the numbers are"
          value={look.view ?? "read"}
          options={[
            ["read", `${VIEW_TEXT[reading.view]}, as read`],
            ...VIEWS.filter((view) => view !== reading.view).map((view) => [view, VIEW_TEXT[view]] as const),
          ]}
          onChange={(view) => change({ view: view === "read" ? null : view })}
        />
      </Choice>
      <Choice>
        <Select
          label="Channel"
          value={look.channel}
          options={CHANNEL_TEXT}
          onChange={(channel) => change({ channel })}
        />
      </Choice>
      <Choice>
        <Select
          label="Alpha"
          value={look.alpha ?? "read"}
          options={[
            ["read", `${ALPHA_TEXT[reading.alpha]}, as read`],
            ...ALPHAS.filter((alpha) => alpha !== reading.alpha).map(
              (alpha) => [alpha, ALPHA_TEXT[alpha]] as const,
            ),
          ]}
          onChange={(alpha) => change({ alpha: alpha === "read" ? null : alpha })}
        />
      </Choice>
      <Choice>
        <Select
          label="Background"
          value={look.background}
          options={BACKGROUND_TEXT}
          onChange={(background) => change({ background })}
        />
      </Choice>
      {look.background === "own" && (
        <Input
          type="color"
          size="xs"
          w="40px"
          p="1"
          bg="paper"
          aria-label="Colour of the background"
          value={hexOf(look.backdrop)}
          onChange={(event) => change({ backdrop: colourOfHex(event.target.value) })}
        />
      )}
      {look.background === "picture" && <BackdropChoice backdrop={backdrop} />}
      {hasNeighbours && (
        <Toggle isOn={viewing.hasNeighbours} onChange={(isOn) => onViewing({ hasNeighbours: isOn })}>
          Neighbours shine through
        </Toggle>
      )}
      <Toggle isOn={viewing.hasFacts} onChange={(hasFacts) => onViewing({ hasFacts })}>
        Facts on the picture
      </Toggle>
      {!isPlain && (
        <Tip text="Everything as the files are read">
          <Button size="xs" variant="plain" onClick={() => onViewing({ look: PLAIN_LOOK })}>
            As it is
          </Button>
        </Tip>
      )}
    </SettingsLine>
  );
}
