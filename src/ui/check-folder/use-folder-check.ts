"use client";
/** A folder of this computer on its way from being listed to being judged; nothing of it leaves the browser. */
import { useEffect, useRef, useState } from "react";
import { type FrameSet, setOf } from "@/core/frames/frame-set";
import type { FileVerdict } from "@/core/image/verdict";
import { fileReport, sequenceReport } from "@/core/naming/folder-report";
import { isPictureName } from "@/core/naming/group-files";
import { type ListedFolder, type Proposals, proposeSequences } from "@/core/naming/proposals";
import { checkFiles, type FolderCheck } from "./check-pool";
import type { DroppedEntry } from "../page/dropped-entries";

/** The page is drawn anew after so many milliseconds: verdicts come by the hundred a second, and a drawing costs what ten do. */
const DRAW_EVERY_MS = 700;

export interface CheckedFile {
  readonly path: string;
  readonly verdict: FileVerdict;
}

export interface FolderState {
  readonly step: "idle" | "listing" | "checking" | "done" | "stopped" | "failed";
  /** Why it failed. */
  readonly trouble: string | null;
  readonly listed: number;
  readonly proposals: Proposals;
  /** Pictures that are judged, of all. */
  readonly checked: number;
  readonly pictures: number;
  readonly bytes: number;
  /** By path, those that are not good or have something to be told. */
  readonly told: readonly CheckedFile[];
  /** Frames by the place of their sequence: damaged ones, and those that nothing has looked at yet. */
  readonly damaged: readonly FrameSet[];
  readonly unlooked: readonly FrameSet[];
  readonly seconds: number;
}

const NOTHING: FolderState = {
  ...{ step: "idle", trouble: null, listed: 0, proposals: { sequences: [], others: [], leftovers: [] } },
  ...{ checked: 0, pictures: 0, bytes: 0, told: [], damaged: [], unlooked: [], seconds: 0 },
};

const split = (path: string): readonly [folder: string, name: string] => {
  const at = path.lastIndexOf("/");
  return at < 0 ? ["", path] : [path.slice(0, at), path.slice(at + 1)];
};

/** Files by their folders; the folder that was chosen is the one that paths begin in. */
function listed(files: readonly DroppedEntry[]): readonly ListedFolder[] {
  const folders = new Map<string, { name: string; bytes: number; modifiedMs: number }[]>();
  for (const { path, file } of files) {
    const [folder, name] = split(path);
    const entries = folders.get(folder) ?? [];
    entries.push({ name, bytes: file.size, modifiedMs: file.lastModified });
    folders.set(folder, entries);
  }
  return [...folders].map(([folder, entries]) => ({ folder, entries }));
}

export interface FolderChecking {
  readonly state: FolderState;
  readonly start: (files: AsyncIterable<DroppedEntry> | Iterable<DroppedEntry>) => void;
  readonly stop: () => void;
  /** What `scan` and `check` would print. */
  readonly report: () => string;
}

export function useFolderCheck(): FolderChecking {
  const [state, setState] = useState<FolderState>(NOTHING);
  /** The check that goes on; another one takes its place. */
  const going = useRef<{ isOver: boolean; check: FolderCheck | null } | null>(null);
  const verdicts = useRef<(CheckedFile | null)[]>([]);
  const end = (): void => {
    if (going.current === null) return;
    going.current.isOver = true;
    going.current.check?.stop();
    // While it is listed there is nothing yet that could be shown.
    setState((before) => (before.step === "listing" ? NOTHING : before));
  };
  useEffect(
    () => () => {
      if (going.current !== null) going.current.isOver = true;
      going.current?.check?.stop();
    },
    [],
  );

  const run = async (found: AsyncIterable<DroppedEntry> | Iterable<DroppedEntry>): Promise<void> => {
    end();
    const own: { isOver: boolean; check: FolderCheck | null } = { isOver: false, check: null };
    going.current = own;
    setState({ ...NOTHING, step: "listing" });
    const began = performance.now();
    let drawnAt = began;
    const isDue = (): boolean => {
      const now = performance.now();
      if (now - drawnAt < DRAW_EVERY_MS) return false;
      drawnAt = now;
      return true;
    };
    const files: DroppedEntry[] = [];
    for await (const file of found) {
      if (own.isOver) return;
      files.push(file);
      if (isDue()) setState((before) => ({ ...before, listed: files.length }));
    }
    const proposals = proposeSequences(listed(files));
    const pictures = files.filter(({ path }) => isPictureName(split(path)[1]));
    const bytes = pictures.reduce((sum, { file }) => sum + file.size, 0);
    /** Where the frames of a path are counted: in which sequence, and which frame. */
    const spots = new Map<string, readonly [sequence: number, frame: number]>();
    proposals.sequences.forEach(({ folder, found: s }, i) => {
      for (const { name, frame } of s.files)
        spots.set(folder === "" ? name : `${folder}/${name}`, [i, frame]);
    });
    const unlooked = proposals.sequences.map(({ found: s }) => new Set(s.files.map((f) => f.frame)));
    const damagedFrames = proposals.sequences.map(() => new Set<number>());
    verdicts.current = pictures.map(() => null);
    const told: CheckedFile[] = [];
    let checked = 0;
    const draw = (step: FolderState["step"], trouble: string | null = null): void => {
      drawnAt = performance.now();
      setState({
        ...{ step, trouble, listed: files.length, proposals, checked, pictures: pictures.length },
        bytes,
        told: [...told].sort((a, b) => (a.path < b.path ? -1 : 1)),
        damaged: damagedFrames.map((set) => setOf(set)),
        unlooked: unlooked.map((set) => setOf(set)),
        seconds: (drawnAt - began) / 1000,
      });
    };
    draw("checking");
    own.check = checkFiles(
      pictures.map(({ file }) => file),
      (index, verdict) => {
        const { path } = pictures[index]!;
        verdicts.current[index] = { path, verdict };
        checked++;
        const spot = spots.get(path);
        if (spot !== undefined) {
          unlooked[spot[0]]!.delete(spot[1]);
          if (verdict.verdict === "damaged") damagedFrames[spot[0]]!.add(spot[1]);
        }
        if (verdict.verdict !== "good" || verdict.notes.length > 0) told.push({ path, verdict });
        if (!own.isOver && isDue()) draw("checking");
      },
    );
    try {
      await own.check.done;
      draw(checked === pictures.length ? "done" : "stopped");
    } catch (error) {
      draw("failed", (error as Error).message);
    }
  };

  return {
    state,
    start: (files) => void run(files),
    stop: end,
    report: () =>
      JSON.stringify(
        {
          scan: {
            sequences: state.proposals.sequences.map((s) => sequenceReport(s, true)),
            others: state.proposals.others,
            leftovers: state.proposals.leftovers,
          },
          check: verdicts.current.flatMap((v) => (v === null ? [] : [fileReport(v.path, v.verdict)])),
        },
        null,
        1,
      ),
  };
}
