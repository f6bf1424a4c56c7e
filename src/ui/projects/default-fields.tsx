"use client";
/** What plans of new shots begin with: a preset, and on top of it size, name, and passes. */
import { Box, Grid, NativeSelect } from "@chakra-ui/react";
import { useState } from "react";
import { isPass, type Pass } from "@/core/plan/passes";
import { PLAN_DEFAULTS } from "@/core/plan/plan";
import { type PresetSettings, SHIPPED_PRESETS } from "@/core/plan/preset";
import { usePresets } from "../live/queries";
import { Labelled, TextLine } from "../page/field";

const AS_IT_IS = "";
const USUAL = "usual";

/** What stands where nothing is said. */
const { width: usualWidth, height: usualHeight, namePattern: usualName, passes: usualPasses } = PLAN_DEFAULTS;

/** A setting, or none of it where the text is blank or says what is usual. */
function withSetting<K extends keyof PresetSettings>(
  defaults: PresetSettings,
  key: K,
  value: PresetSettings[K] | null,
): PresetSettings {
  const { [key]: _before, ...others } = defaults;
  return value === null ? others : { ...others, [key]: value };
}

const sizeIn = (text: string): number | null => (text.trim() === "" ? null : Number(text));
const passesIn = (text: string): readonly Pass[] =>
  text
    .split(",")
    .map((part) => part.trim())
    .filter(isPass);

/** How many settings there are, in words. */
const settingsText = (defaults: PresetSettings): string => {
  const set = Object.keys(defaults).length;
  return set === 0 ? "what is usual" : `what is set now: ${set} setting${set === 1 ? "" : "s"}`;
};

export function DefaultFields({
  defaults,
  onChange,
  faults,
}: {
  readonly defaults: PresetSettings;
  readonly onChange: (defaults: PresetSettings) => void;
  readonly faults: Readonly<Record<string, string>>;
}) {
  const team = usePresets().data?.presets ?? [];
  const presets = [...SHIPPED_PRESETS, ...team];
  const take = (key: string): void => {
    if (key === AS_IT_IS) return;
    onChange(key === USUAL ? {} : (presets.find((preset) => preset.name === key)?.settings ?? defaults));
  };
  return (
    <Grid templateColumns="minmax(0, 1.6fr) 92px 92px minmax(0, 1.4fr) minmax(0, 1.4fr)" gap="3" mt="3">
      <Labelled label="Plans of new shots begin with">
        <NativeSelect.Root size="xs">
          <NativeSelect.Field
            bg="sheet"
            fontSize="sm"
            aria-label="Plans of new shots begin with"
            value={AS_IT_IS}
            onChange={(event) => take(event.target.value)}
          >
            <option value={AS_IT_IS}>{settingsText(defaults)}</option>
            {Object.keys(defaults).length > 0 && <option value={USUAL}>what is usual</option>}
            {presets.map(({ name }) => (
              <option key={name} value={name}>
                the preset {name}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      </Labelled>
      <TextLine
        label="Width"
        isMono
        value={String(defaults.width ?? "")}
        placeholder={String(usualWidth)}
        fault={faults.width}
        onChange={(text) => onChange(withSetting(defaults, "width", sizeIn(text)))}
      />
      <TextLine
        label="Height"
        isMono
        value={String(defaults.height ?? "")}
        placeholder={String(usualHeight)}
        fault={faults.height}
        onChange={(text) => onChange(withSetting(defaults, "height", sizeIn(text)))}
      />
      <TextLine
        label="Name of files"
        isMono
        value={defaults.namePattern ?? ""}
        placeholder={usualName}
        fault={faults.namePattern}
        onChange={(text) => onChange(withSetting(defaults, "namePattern", text === "" ? null : text))}
      />
      <Box>
        <PassLine
          passes={defaults.passes ?? null}
          fault={faults.passes}
          onChange={(passes) => onChange(withSetting(defaults, "passes", passes))}
        />
      </Box>
    </Grid>
  );
}

/** Names with commas; what is none of ours is told while it stands there. */
function PassLine({
  passes,
  fault,
  onChange,
}: {
  readonly passes: readonly Pass[] | null;
  readonly fault: string | undefined;
  readonly onChange: (passes: readonly Pass[] | null) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const text = typed ?? (passes === null ? "" : passes.join(", "));
  const unknown = text
    .split(",")
    .map((part) => part.trim())
    .filter((part) => part !== "" && !isPass(part));
  return (
    <TextLine
      label="Passes"
      isMono
      value={text}
      placeholder={usualPasses.join(", ")}
      fault={unknown.length > 0 ? `There is no pass ${unknown.join(", ")}.` : fault}
      onChange={(next) => {
        setTyped(next);
        onChange(next.trim() === "" ? null : passesIn(next));
      }}
    />
  );
}
