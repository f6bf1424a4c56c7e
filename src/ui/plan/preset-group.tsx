"use client";
/**
 * Settings to use again: four that come along, and those that the team saved.
 * Presets are copied into the draft, so that a plan never hangs on one: what was renamed, changed or
 * removed later changes no plan.
 */
import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { PresetView } from "@/contract/shot-view";
import { PRESET_FORMAT, type PresetFile } from "@/contract/plan";
import {
  applyPreset,
  presetFaults,
  presetOf,
  type PresetSettings,
  SHIPPED_PRESETS,
} from "@/core/plan/preset";
import { changedFields } from "@/core/plan/plan";
import { messageOf, post, remove } from "../live/api";
import { usePresets } from "../live/queries";
import { useNow } from "../page/header";
import { Refusal } from "../page/states";
import { useShotWork } from "../shot/shot-context";
import { Remark } from "../fields/fields";
import { FIELD_WORD } from "../shot/plan-words";
import { queryKeys } from "../live/query-keys";
import { clock } from "../words";

/**
 * A preset fills the draft, and says what of it does not fit this plan; it is saved with the plan or not at
 * all.
 */
export function PresetGroup() {
  const { draft } = useShotWork();
  const client = useQueryClient();
  const presets = usePresets();
  const [name, setName] = useState("");
  const [applied, setApplied] = useState<string | null>(null);
  const [unfit, setUnfit] = useState<string | null>(null);
  const reload = (): Promise<void> => client.invalidateQueries({ queryKey: queryKeys.presets });
  const save = useMutation({
    mutationFn: () => post("/api/presets", { name, settings: presetOf(draft.plan) }),
    onSuccess: async () => {
      setName("");
      await reload();
    },
  });
  const take = useMutation({
    mutationFn: async (file: File) => post("/api/presets/import", { text: await file.text() }),
    onSuccess: reload,
  });
  const apply = (title: string, settings: PresetSettings): void => {
    // All or nothing: half a preset would be none that anybody knows.
    const faults = presetFaults(settings, draft.plan);
    setUnfit(faults.length === 0 ? null : `${title} does not fit: ${faults[0]!.message}`);
    if (faults.length > 0) return;
    const fields = changedFields(draft.plan, applyPreset(draft.plan, settings));
    draft.change(settings);
    setApplied(
      fields.length === 0
        ? `${title} changes nothing here.`
        : `${title} set ${fields.map((field) => FIELD_WORD[field]).join(", ")}.`,
    );
  };
  return (
    <Flex direction="column" gap="1">
      {SHIPPED_PRESETS.map((preset) => (
        <Flex key={preset.name} gap="3" align="baseline">
          <Button
            size="xs"
            variant="plain"
            flexShrink={0}
            onClick={() => apply(preset.name, preset.settings)}
          >
            {preset.name}
          </Button>
          <Text fontSize="xs" color="softInk">
            {preset.about}
          </Text>
        </Flex>
      ))}
      {(presets.data?.presets ?? []).map((preset) => (
        <OwnPreset
          key={preset.id}
          preset={preset}
          onApply={() => apply(preset.name, preset.settings)}
          onChanged={reload}
        />
      ))}
      {applied !== null && (
        <Text role="status" fontSize="xs">
          {applied}
        </Text>
      )}
      {unfit !== null && <Refusal>{unfit}</Refusal>}
      <Flex gap="2" align="center" mt="1.5" asChild>
        <form
          onSubmit={(event) => {
            event.preventDefault();
            if (name.trim() !== "") save.mutate();
          }}
        >
          <Input
            size="sm"
            bg="paper"
            aria-label="Name of the preset"
            placeholder="Name"
            maxLength={80}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <Button
            type="submit"
            size="xs"
            variant="outline"
            disabled={name.trim() === ""}
            loading={save.isPending}
          >
            Save these settings
          </Button>
          <Button asChild size="xs" variant="plain">
            <label>
              Read a file
              <input
                type="file"
                accept=".json"
                hidden
                aria-label="Preset file"
                onChange={(event) => {
                  const file = event.target.files?.[0];
                  event.target.value = "";
                  if (file !== undefined) take.mutate(file);
                }}
              />
            </label>
          </Button>
        </form>
      </Flex>
      {(save.error ?? take.error ?? presets.error) !== null && (
        <Refusal>{messageOf(save.error ?? take.error ?? presets.error)}</Refusal>
      )}
      <Remark>A preset holds size, picture, quality, passes, files and names: nothing of the shot.</Remark>
    </Flex>
  );
}

/** One of the team's: use, rename, hand over as a file, remove. */
function OwnPreset({
  preset,
  onApply,
  onChanged,
}: {
  readonly preset: PresetView;
  readonly onApply: () => void;
  /** The list is read anew. */
  readonly onChanged: () => Promise<void>;
}) {
  const [renamed, setRenamed] = useState<string | null>(null);
  const now = useNow();
  const rename = useMutation({
    mutationFn: (name: string) => post(`/api/presets/${preset.id}`, { name }),
    onSuccess: async () => {
      setRenamed(null);
      await onChanged();
    },
  });
  const drop = useMutation({ mutationFn: () => remove(`/api/presets/${preset.id}`), onSuccess: onChanged });
  const file: PresetFile = { format: PRESET_FORMAT, name: preset.name, settings: preset.settings };
  const trouble = rename.error ?? drop.error;
  return (
    <Box>
      <Flex gap="3" align="baseline">
        {renamed === null ? (
          <Button size="xs" variant="plain" flexShrink={0} onClick={onApply}>
            {preset.name}
          </Button>
        ) : (
          <form
            onSubmit={(event) => {
              event.preventDefault();
              if (renamed.trim() !== "") rename.mutate(renamed);
            }}
          >
            <Input
              size="xs"
              autoFocus
              w="180px"
              bg="paper"
              aria-label={`New name of ${preset.name}`}
              maxLength={80}
              value={renamed}
              onChange={(event) => setRenamed(event.target.value)}
              onKeyDown={(event) => event.key === "Escape" && setRenamed(null)}
            />
          </form>
        )}
        <Flex ml="auto" gap="2">
          <Button size="xs" variant="plain" onClick={() => setRenamed(renamed === null ? preset.name : null)}>
            {renamed === null ? "Rename" : "Leave it"}
          </Button>
          <Button asChild size="xs" variant="plain">
            <a
              href={`data:application/json;charset=utf-8,${encodeURIComponent(JSON.stringify(file, null, 2))}`}
              download={`${preset.name.replace(/[^\w-]+/g, "-")}.preset.json`}
            >
              Write a file
            </a>
          </Button>
          <Button size="xs" variant="plain" loading={drop.isPending} onClick={() => drop.mutate()}>
            Delete
          </Button>
        </Flex>
      </Flex>
      {now !== null && (
        <Text fontSize="xs" color="softInk" pl="2" className="figures">
          saved{preset.who === null ? "" : ` by ${preset.who}`} {clock(preset.changedAt, now)}
        </Text>
      )}
      {trouble !== null && <Refusal>{messageOf(trouble)}</Refusal>}
    </Box>
  );
}
