/** Saving, renaming and reading presets of the team. */
import type { Who } from "@/contract/who";
import { checkPresetFile } from "@/contract/plan";
import { faultText } from "@/contract/validate";
import { jsonFaultLine } from "@/core/json-fault";
import { type PresetSettings, SHIPPED_PRESETS } from "@/core/plan/preset";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { deletePreset, insertPreset, presetNamed, renamePreset } from "../store/presets";

const unknown = (): TallyError => new TallyError("preset-unknown");

/** A name that no other preset has, shipped ones included. */
async function requireFreeName(name: string, own: number | null = null): Promise<string> {
  const wanted = name.trim();
  const other = await presetNamed(pool(), wanted);
  const isTaken =
    SHIPPED_PRESETS.some((p) => p.name.toLowerCase() === wanted.toLowerCase()) ||
    (other !== null && other.id !== own);
  if (isTaken) throw new TallyError("preset-name-taken", { name: wanted }).at("name", "This name is taken.");
  return wanted;
}

/**
 * Keeps settings under a name for the whole team. @throws TallyError `preset-name-taken`, also by one that
 * ships
 */
export const savePreset = async (
  name: string,
  settings: PresetSettings,
  who: Who = null,
): Promise<{ readonly id: number }> => ({
  id: await insertPreset(pool(), await requireFreeName(name), settings, who),
});

/**
 * Takes in a preset file that somebody handed over. A fault is told with its line: such files are edited by
 * hand.
 * @throws TallyError `preset-broken`
 */
export async function importPreset(text: string, who: Who = null): Promise<{ readonly id: number }> {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    throw new TallyError("preset-broken", {
      message: `Line ${jsonFaultLine(text, error as Error)}: this is no JSON (${(error as Error).message}).`,
    });
  }
  const checked = checkPresetFile(value);
  if (!checked.ok)
    throw new TallyError("preset-broken", { message: `This is no preset. ${faultText(checked.faults)}.` });
  return savePreset(checked.value.name, checked.value.settings, who);
}

/**
 * Gives a preset another name; plans that were filled from it keep their settings. @throws TallyError where
 * the name is taken or the preset is gone
 */
export async function changePresetName(id: number, name: string, who: Who = null): Promise<void> {
  const wanted = await requireFreeName(name, id);
  if (!(await renamePreset(pool(), id, wanted, who))) throw unknown();
}

/** Takes a preset away. Plans copied its settings and do not follow it, so nothing else changes. */
export async function removePreset(id: number): Promise<void> {
  if (!(await deletePreset(pool(), id))) throw unknown();
}
