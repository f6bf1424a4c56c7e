"use client";
/**
 * The plan as it is being edited: the saved revision, with what was changed on top. Edits belong to
 * their version and outlive a look at another camera, pass or version; when somebody else saves a
 * revision it is taken over beneath them.
 */
import { useQueryClient } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import type { ShotView } from "@/contract/shot-view";
import { changedFields, type Plan, type ReadPlan, readPlan } from "@/core/plan/plan";
import { offerAmong, offerFaults, type RendererOffer } from "@/core/plan/renderer-offer";
import { ApiFailure, post, shotApi, nameOfShot } from "../live/api";
import { queryKeys } from "../live/query-keys";
import { type EditsState, soundEdits } from "./use-kept-edits";

/** A sentence a field. */
export type PlanFaults = Readonly<Partial<Record<keyof Plan, string>>>;

export interface PlanDraft {
  /** As it stands in the fields, right or wrong. */
  readonly plan: Plan;
  /** What its renderer offers: what the fields show. */
  readonly offer: RendererOffer;
  /** Of the renderer's options, by the codes of their faults. */
  readonly optionFaults: Readonly<Record<string, string>>;
  /** The plan read, or null while something in it is wrong. */
  readonly read: ReadPlan | null;
  /** By field: what cannot be read, and what the server refused. */
  readonly faults: PlanFaults;
  /** Fields that differ from the saved revision. */
  readonly changed: readonly (keyof Plan)[];
  /** Revision that was saved when the first edit was made; null without edits. */
  readonly basedOn: number | null;
  /** Edits on top of those that are there. */
  readonly change: (edits: Partial<Plan>) => void;
  /** Puts fields back to the saved revision; all when none is named. */
  readonly putBack: (fields?: readonly (keyof Plan)[]) => void;
  /** Edits of another version of the shot, to be seen there. */
  readonly changeVersion: (versionId: number, edits: Partial<Plan>) => void;
  /** Settles when it was saved or refused; never throws for a refusal. */
  readonly save: () => Promise<void>;
  readonly isSaving: boolean;
  /** Why the last save was refused, beyond what stands at the fields. */
  readonly saveTrouble: { readonly code: string; readonly message: string } | null;
}

/** @param edits of all versions, kept by the browser: they outlive this page */
export function usePlanDraft(shot: ShotView, [all, setAll]: EditsState): PlanDraft {
  const client = useQueryClient();
  const [isSaving, setSaving] = useState(false);
  const [refused, setRefused] = useState<{ readonly plan: Plan; readonly faults: PlanFaults } | null>(null);
  const [saveTrouble, setSaveTrouble] = useState<PlanDraft["saveTrouble"]>(null);
  const kept = all[shot.versionId];
  const plan = useMemo(
    () => ({ ...shot.plan, ...(kept === undefined ? {} : soundEdits(shot.plan, kept.edits)) }),
    [shot.plan, kept],
  );
  const read = useMemo(() => readPlan(plan), [plan]);
  const offer = useMemo(() => offerAmong(shot.renderers, plan.renderer), [shot.renderers, plan.renderer]);
  const notOffered = useMemo(() => offerFaults(plan, offer), [plan, offer]);
  const changed = useMemo(() => changedFields(shot.plan, plan), [shot.plan, plan]);
  return useMemo((): PlanDraft => {
    const editVersion = (id: number, next: (before: Partial<Plan>) => Partial<Plan>): void =>
      setAll(({ [id]: own, ...others }) => {
        const edits = next(own?.edits ?? {});
        return Object.keys(edits).length === 0
          ? others
          : { ...others, [id]: { edits, basedOn: own?.basedOn ?? shot.revision } };
      });
    const setEdits = (next: (before: Partial<Plan>) => Partial<Plan>): void =>
      editVersion(shot.versionId, next);
    const faults: PlanFaults = {
      // What the server refused stands at its field until that field is touched.
      ...Object.fromEntries(
        Object.entries(refused?.faults ?? {}).filter(
          ([field]) => refused!.plan[field as keyof Plan] === plan[field as keyof Plan],
        ),
      ),
      ...Object.fromEntries(notOffered.map((fault) => [fault.field, fault.message])),
      ...(read.ok ? {} : Object.fromEntries(read.faults.map((fault) => [fault.field, fault.message]))),
    };
    return {
      plan,
      offer,
      optionFaults: Object.fromEntries(
        notOffered.filter((fault) => fault.field === "options").map((fault) => [fault.code, fault.message]),
      ),
      read: read.ok && notOffered.length === 0 ? read.value : null,
      faults,
      changed,
      basedOn: changed.length === 0 ? null : (kept?.basedOn ?? null),
      isSaving,
      saveTrouble,
      change: (more) => {
        setSaveTrouble(null);
        setEdits((before) => ({ ...before, ...more }));
      },
      putBack: (fields) => {
        setSaveTrouble(null);
        setEdits((before) =>
          fields === undefined
            ? {}
            : Object.fromEntries(
                Object.entries(before).filter(([field]) => !fields.includes(field as keyof Plan)),
              ),
        );
      },
      changeVersion: (versionId, more) => editVersion(versionId, (before) => ({ ...before, ...more })),
      save: async () => {
        setSaving(true);
        setSaveTrouble(null);
        try {
          await post(`${shotApi(nameOfShot(shot))}/plan`, {
            versionId: shot.versionId,
            basedOn: shot.revision,
            plan,
          });
          await client.invalidateQueries({ queryKey: queryKeys.shot(nameOfShot(shot)) });
          setEdits(() => ({}));
        } catch (error) {
          if (!(error instanceof ApiFailure)) throw error;
          // The newer revision is taken over beneath the edits: they can be looked at against it, and saved.
          if (error.code === "plan-outdated")
            await client.invalidateQueries({ queryKey: queryKeys.shot(nameOfShot(shot)) });
          // The scene's field asks the server itself, so that its trouble goes away once the scene is mended.
          setRefused({
            plan,
            faults: Object.fromEntries(
              error.faults
                .filter((f) => f.field in plan && f.field !== "scene")
                .map((f) => [f.field, f.message]),
            ),
          });
          setSaveTrouble({ code: error.code, message: error.message });
        } finally {
          setSaving(false);
        }
      },
    };
  }, [client, setAll, shot, kept, plan, offer, notOffered, read, changed, refused, isSaving, saveTrouble]);
}
