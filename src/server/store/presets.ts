/**
 * Presets that the team saved; the shipped ones are no rows.
 * A preset holds settings of a plan and nothing of a shot. It is copied into a plan when it is used:
 * changing or removing it later changes no plan.
 */
import type { Who } from "@/contract/who";
import type { PresetSettings } from "@/core/plan/preset";
import { type Db, fromJson, row, rows, write } from "../db/rows";

export interface PresetRow {
  readonly id: number;
  /** Unique, every byte counts. */
  readonly name: string;
  readonly settings: PresetSettings;
  /** Who saved or renamed it last. */
  readonly who: Who;
  /** When, in milliseconds since 1970. */
  readonly changedAt: number;
}

/** The team's presets, by name. */
export const listPresets = async (db: Db): Promise<PresetRow[]> =>
  (
    await rows<{ id: number; name: string; settings: unknown; who: Who; changedAt: Date }>(
      db,
      "SELECT id, name, settings, who, changed_at AS changedAt FROM preset ORDER BY name",
    )
  ).map((r) => ({
    ...r,
    settings: fromJson<PresetSettings>(r.settings),
    changedAt: r.changedAt.getTime(),
  }));

/** Whether a name is taken, by whom. Names differ by every byte: the collation is binary. */
export const presetNamed = (db: Db, name: string): Promise<{ id: number } | null> =>
  row<{ id: number }>(db, "SELECT id FROM preset WHERE name = ?", [name]);

/** Adds a preset and tells its id; a second one of that name is refused by the table's key. */
export const insertPreset = async (
  db: Db,
  name: string,
  settings: PresetSettings,
  who: Who,
): Promise<number> =>
  (
    await write(db, "INSERT INTO preset (name, settings, who) VALUES (?, ?, ?)", [
      name,
      JSON.stringify(settings),
      who,
    ])
  ).id;

/** @returns false where there is no such preset any more */
export const renamePreset = async (db: Db, id: number, name: string, who: Who): Promise<boolean> =>
  (await write(db, "UPDATE preset SET name = ?, who = ?, changed_at = NOW(3) WHERE id = ?", [name, who, id]))
    .matched === 1;

/** @returns false where there was no such preset */
export const deletePreset = async (db: Db, id: number): Promise<boolean> =>
  (await write(db, "DELETE FROM preset WHERE id = ?", [id])).matched === 1;
