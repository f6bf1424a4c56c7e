"use client";
/**
 * Edits of plans that are not saved yet, kept in the browser by shot and version: a reload, another page or a
 * closed lid must not throw them away. They stay until they are saved or dropped.
 */
import { useCallback, useEffect, useState } from "react";
import type { Plan } from "@/core/plan/plan";
import type { ShotName } from "../live/api";

export interface KeptEdits {
  readonly edits: Partial<Plan>;
  /** Revision that was saved when the first of them was made. */
  readonly basedOn: number;
}

/** By the version's id. */
export type EditsByVersion = Readonly<Record<number, KeptEdits>>;

export type EditsState = readonly [EditsByVersion, (next: (all: EditsByVersion) => EditsByVersion) => void];

const NONE: EditsByVersion = {};

const keyOf = ({ project, code }: ShotName): string => `plain-tally-edits/${project}/${code}`;

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value);

/** Written by this page, perhaps by an older one: what is not of the shape is left out. */
function readKept(text: string | null): EditsByVersion {
  if (text === null) return {};
  try {
    const kept: unknown = JSON.parse(text);
    if (!isRecord(kept)) return {};
    return Object.fromEntries(
      Object.entries(kept).filter(
        ([, value]) => isRecord(value) && isRecord(value.edits) && Number.isInteger(value.basedOn),
      ),
    ) as unknown as EditsByVersion;
  } catch {
    return {};
  }
}

/** A browser that keeps nothing (its storage is full, or shut) has the edits for as long as the page is open. */
function writeKept(key: string, all: EditsByVersion): void {
  try {
    if (Object.keys(all).length === 0) localStorage.removeItem(key);
    else localStorage.setItem(key, JSON.stringify(all));
  } catch {
    // As before there was a store.
  }
}

/** Edits of a shot's versions, as they were left. */
export function useKeptEdits(name: ShotName): EditsState {
  const key = keyOf(name);
  const [state, setState] = useState<{ readonly key: string; readonly all: EditsByVersion }>({
    key: "",
    all: NONE,
  });
  // After the first drawing: the server, which draws it, has no such store.
  useEffect(() => setState({ key, all: readKept(localStorage.getItem(key)) }), [key]);
  useEffect(() => {
    if (state.key === key) writeKept(key, state.all);
  }, [key, state]);
  const change = useCallback(
    (next: (all: EditsByVersion) => EditsByVersion): void =>
      setState((before) => ({ key, all: next(before.key === key ? before.all : NONE) })),
    [key],
  );
  return [state.key === key ? state.all : NONE, change];
}

/** Settings that may be a word or a value. */
const UNIONS: readonly string[] = ["shutter", "lens"] satisfies (keyof Plan)[];

/** Of kept edits those that a plan can have: a setting may be gone, or of another kind by now. */
export const soundEdits = (plan: Plan, edits: Partial<Plan>): Partial<Plan> =>
  Object.fromEntries(
    Object.entries(edits).filter(([field, value]) => {
      if (!(field in plan)) return false;
      const saved: unknown = plan[field as keyof Plan];
      return (
        UNIONS.includes(field) ||
        value === null ||
        saved === null ||
        (typeof value === typeof saved && Array.isArray(value) === Array.isArray(saved))
      );
    }),
  );
