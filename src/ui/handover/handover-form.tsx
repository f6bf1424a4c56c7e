"use client";
/** What is to be handed over, of which frames, and what stands in the place of those that cannot be. */
import { Box, Text } from "@chakra-ui/react";
import type { Gaps } from "@/core/handover/line-up";
import {
  type CopySettings,
  type HandoverKind,
  type Into,
  type MovieSettings,
  type SheetSettings,
  tellsFaults,
  USUAL_COPY,
  USUAL_MOVIE,
  USUAL_SHEET,
  type Wish,
} from "@/core/handover/wish";
import { Select, Toggle } from "../fields/fields";
import { Caption } from "../page/bench";
import { OneOf } from "../page/choices";
import { IntoField } from "./into-field";
import { MovieFields, type MovieSubject } from "./movie-settings";
import { CopyFields, SheetFields } from "./other-settings";

const LISTS = ["list", "concat", "sums", "otio", "csv", "json", "patch"] as const;
type ListKind = (typeof LISTS)[number];

const LIST_WORD: Readonly<Record<ListKind, string>> = {
  list: "paths of the pictures, one a line",
  concat: "list for ffmpeg",
  sums: "checksums (SHA-256)",
  otio: "clip for the edit (OpenTimelineIO)",
  csv: "tally as a table (CSV)",
  json: "tally for programs (JSON)",
  patch: "patch list: what has to be made again, and why",
};

/** Every kind keeps its own settings while somebody looks at another. */
export interface HandoverDraft {
  readonly as: HandoverKind;
  readonly gaps: Gaps;
  readonly isDeep: boolean;
  readonly tells: boolean;
  readonly into: Into | null;
  readonly movie: MovieSettings;
  readonly sheet: SheetSettings;
  readonly copy: CopySettings;
}

export const FIRST_DRAFT: HandoverDraft = {
  as: "movie",
  gaps: "stop",
  isDeep: false,
  tells: false,
  into: null,
  movie: USUAL_MOVIE,
  sheet: USUAL_SHEET,
  copy: USUAL_COPY,
};

/** @param frames a phrase */
export function wishOfDraft(
  { as, gaps, isDeep, tells, into, movie, sheet, copy }: HandoverDraft,
  frames: string,
): Wish {
  const common = { frames, gaps, isDeep, tells, into };
  switch (as) {
    case "movie":
      return { ...common, as, movie };
    case "sheet":
      return { ...common, as, sheet };
    case "frames":
      return { ...common, as, copy };
    case "otio":
      return { ...common, as, rate: movie.rate };
    default:
      return { ...common, as };
  }
}

const isList = (as: HandoverKind): as is ListKind => LISTS.some((kind) => kind === as);

export function HandoverForm({
  draft,
  onChange,
  subject,
  faults,
  isEdit = false,
}: {
  readonly draft: HandoverDraft;
  readonly onChange: (draft: HandoverDraft) => void;
  readonly subject: MovieSubject;
  /** By field. */
  readonly faults: Readonly<Record<string, string>>;
  /** Of an edit there is no list. */
  readonly isEdit?: boolean;
}) {
  const set = (change: Partial<HandoverDraft>): void => onChange({ ...draft, ...change });
  const kind = isList(draft.as) ? "lists" : draft.as;
  return (
    <>
      <OneOf
        label="What to hand over"
        columns={2}
        value={kind}
        onChange={(next) => set({ as: next === "lists" ? "list" : next })}
        options={[
          { key: "movie", text: "A movie" },
          { key: "page", text: "A page that plays anywhere" },
          { key: "sheet", text: "A contact sheet" },
          ...(isEdit
            ? []
            : ([
                { key: "frames", text: "A copy of the frames" },
                { key: "report", text: "A report of the shot" },
                { key: "case", text: "A report that closes the case" },
                { key: "lists", text: "A list or a table" },
              ] as const)),
        ]}
      />
      {draft.as === "movie" && (
        <MovieFields
          movie={draft.movie}
          onChange={(movie) => set({ movie })}
          subject={subject}
          faults={faults}
        />
      )}
      {draft.as === "sheet" && (
        <SheetFields sheet={draft.sheet} onChange={(sheet) => set({ sheet })} faults={faults} />
      )}
      {draft.as === "frames" && (
        <CopyFields
          copy={draft.copy}
          onChange={(copy) => set({ copy })}
          faults={faults}
          isLinear={subject.isLinear}
        />
      )}
      {isList(draft.as) && (
        <Select
          label="Which list"
          value={draft.as}
          options={LISTS.map((list) => [list, LIST_WORD[list]] as const)}
          onChange={(as) => set({ as })}
        />
      )}
      {!tellsFaults(draft.as) && (
        <>
          <Box mt="3" />
          <Caption>Frames that are missing, flagged, out of date or of another size</Caption>
          <OneOf<Gaps>
            label="Gaps"
            value={draft.gaps}
            onChange={(gaps) => set({ gaps })}
            options={[
              { key: "stop", text: "Stop: hand nothing over" },
              { key: "hold", text: "Hold the frame before" },
              { key: "card", text: "A black card with the number", disabled: isList(draft.as) },
            ]}
          />
          <Toggle isOn={draft.isDeep} onChange={(isDeep) => set({ isDeep })}>
            Unpack every file first (deep check)
          </Toggle>
        </>
      )}
      <IntoField into={draft.into} onChange={(into) => set({ into })} fault={faults.folder} />
      <Box mt="2" />
      <Toggle isOn={draft.tells} onChange={(tells) => set({ tells })}>
        Tell me what becomes of it
      </Toggle>
      {faults.as !== undefined && <Text color="brick">{faults.as}</Text>}
    </>
  );
}
