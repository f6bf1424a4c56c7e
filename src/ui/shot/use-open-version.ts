"use client";
/** Rough, final and next version go the same way: the server names it, the page goes there. */
import { useMutation } from "@tanstack/react-query";
import type { OpenedVersion } from "@/contract/shot-view";
import { type Plan, type Purpose, versionName } from "@/core/plan/plan";
import { post, shotApi, nameOfShot } from "../live/api";
import { useShotWork } from "./shot-context";

/** Opens a version with a plan and shows it. */
export function useOpenVersion() {
  const { shot, openSequence } = useShotWork();
  return useMutation({
    mutationFn: (body: {
      readonly plan: Plan;
      readonly purpose: Purpose;
      readonly fromRevisionId: number | null;
    }) => post<OpenedVersion>(`${shotApi(nameOfShot(shot))}/versions`, body),
    onSuccess: ({ version }) => openSequence({ version: versionName(version) }),
  });
}
