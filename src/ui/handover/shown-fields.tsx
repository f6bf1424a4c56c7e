"use client";
/** How files of scene light are shown: exposure and view, as Look has them. */
import type { ShownHow } from "@/core/handover/wish";
import { STOPS, VIEWS } from "@/core/playback/shown-as";
import { NumberInput, Select } from "../fields/fields";
import { Labelled } from "../page/field";

const VIEW_WORD: Readonly<Record<(typeof VIEWS)[number], string>> = {
  plain: "as they are",
  srgb: "sRGB curve",
  film: "film curve",
  depth: "depth, near is white",
  direction: "directions",
};

export function ShownFields({
  shown: { stops, view },
  onChange,
  fault,
}: {
  readonly shown: ShownHow;
  readonly onChange: (shown: ShownHow) => void;
  readonly fault: string | undefined;
}) {
  return (
    <>
      <Labelled label="Exposure, stops" fault={fault}>
        <NumberInput
          label="Exposure in stops"
          step={0.5}
          value={stops}
          onChange={(next) => onChange({ view, stops: Math.min(STOPS.most, Math.max(STOPS.least, next)) })}
        />
      </Labelled>
      <Labelled label="Shown through">
        <Select
          label="View"
          value={view ?? "usual"}
          options={[["usual", "as Look shows it"], ...VIEWS.map((v) => [v, VIEW_WORD[v]] as const)]}
          onChange={(next) => onChange({ stops, view: next === "usual" ? null : next })}
        />
      </Labelled>
    </>
  );
}
