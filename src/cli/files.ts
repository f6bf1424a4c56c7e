/**
 * `plain-tally scan` and `plain-tally check`: a folder's sequences, and whether files are whole.
 * Works on any folder, without database and configuration: what another program rendered can be looked at,
 * too.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { formatPhrase } from "@/core/frames/phrase";
import { firstOf, lastOf } from "@/core/frames/frame-set";
import type { FileVerdict } from "@/core/image/verdict";
import { fileReport, sequenceReport } from "@/core/naming/folder-report";
import { groupFiles, isPictureName } from "@/core/naming/group-files";
import { type ListedFolder, type Proposal, type Proposals, proposeSequences } from "@/core/naming/proposals";
import { recognize } from "@/core/naming/recognize";
import { listFoldersBelow } from "@/server/files/folders-below";
import { lookAtFiles } from "@/server/files/look-at-files";
import { CallWrong, EXIT, type ExitCode, print, printJson } from "./command";
import { type MeasuredFile, oddFiles } from "./odd-files";

/** @throws CallWrong for what is no folder that can be read */
async function requireFolder(folder: string): Promise<void> {
  const stat = await fs.stat(folder).catch(() => null);
  if (stat === null) throw new CallWrong(`there is no folder ${folder}`);
  if (!stat.isDirectory()) throw new CallWrong(`${folder} is not a folder`);
}

/** Sequences of any folder, with no database and no plan. */
export async function scanCommand(
  folder: string,
  options: { readonly json?: boolean; readonly below?: boolean },
): Promise<ExitCode> {
  const isBelow = options.below === true;
  await requireFolder(folder);
  const { folders, unreadable, links } = await listFoldersBelow(folder, { isAlone: true, isDeep: isBelow });
  const { sequences, others, leftovers } = isBelow ? proposeSequences(folders) : asFound(folders);
  const [top] = unreadable;
  if (top?.folder === "") throw new CallWrong(`${folder} cannot be read (${top.errno})`);
  if (options.json)
    printJson({
      sequences: sequences.map((s) => sequenceReport(s, isBelow)),
      others,
      leftovers,
      ...(isBelow ? { unreadable, links } : {}),
    });
  else {
    if (sequences.length === 0) print("No numbered pictures here.");
    for (const sequence of sequences) printSequence(sequence, isBelow);
    if (others.length > 0) print(`Other files: ${others.join(", ")}`);
    if (leftovers.length > 0) print(`Left over from attempts that did not end: ${leftovers.join(", ")}`);
    for (const { folder: closed, errno } of unreadable) print(`${closed} cannot be read (${errno}).`);
    if (links.length > 0) print(`Links to folders, not followed: ${links.join(", ")}`);
  }
  const isWhole = sequences.every(({ found }) => found.missing.count === 0 && found.doubles.length === 0);
  return isWhole && unreadable.length === 0 ? EXIT.fine : EXIT.frames;
}

/** The folder's own sequences as they are: whatever they may be of, a numbered picture alone too. */
function asFound(folders: readonly ListedFolder[]): Proposals {
  const { sequences, others, leftovers } = groupFiles(folders[0]?.entries ?? []);
  return {
    sequences: sequences.map((found) => ({ folder: "", found, ...recognize([], found.prefix) })),
    others,
    leftovers,
  };
}

function printSequence({ folder, camera, pass, found: s }: Proposal, isBelow: boolean): void {
  const missing = formatPhrase(s.missing);
  const facts = [
    `${firstOf(s.frames)}-${lastOf(s.frames)}`,
    `${s.frames.count} frames`,
    `${(s.bytes / 1e6).toFixed(1)} MB`,
    ...(missing === "" ? [] : [`missing ${missing}`]),
    ...(s.widths.length > 1 ? [`widths ${s.widths.join(" and ")}`] : []),
    ...(isBelow ? [`${camera} ${pass}`] : []),
  ];
  print(`${path.join(folder, s.name)}  ${facts.join(", ")}`);
  for (const d of s.doubles)
    print(`  frame ${d.frame} is there ${d.files.length} times: ${d.files.join(", ")}`);
}

/** Every file below a place, in the order of the file system. */
async function* walk(place: string): AsyncGenerator<string> {
  const stat = await fs.stat(place).catch(() => null);
  if (stat === null) throw new CallWrong(`there is no file or folder ${place}`);
  if (!stat.isDirectory()) {
    yield place;
    return;
  }
  const entries = (await fs.readdir(place, { withFileTypes: true })).sort((a, b) =>
    a.name < b.name ? -1 : 1,
  );
  for (const entry of entries) {
    if (entry.isDirectory()) yield* walk(path.join(place, entry.name));
    else if (isPictureName(entry.name)) yield path.join(place, entry.name);
  }
}

interface CheckOptions {
  readonly json?: boolean;
  readonly deep?: boolean;
  readonly quick?: boolean;
  readonly odd?: boolean;
}

/**
 * Files and folders, judged one by one, and with --odd each sequence among its own. Ends with 1 where one is damaged or
 * odd, so that a script can stop there.
 */
export async function checkCommand(places: readonly string[], options: CheckOptions): Promise<ExitCode> {
  if (options.quick && (options.deep || options.odd))
    throw new CallWrong(`--quick and --${options.deep ? "deep" : "odd"} exclude each other`);
  const depth = options.odd ? "measures" : options.deep ? "deep" : "quick";
  const files: string[] = [];
  for (const place of places) for await (const file of walk(place)) files.push(file);
  const checked: { readonly file: string; readonly verdict: FileVerdict }[] = [];
  const all: MeasuredFile[] = [];
  for await (const { verdict: v, measured, ...known } of lookAtFiles(files, depth)) {
    const file = files[checked.length]!;
    checked.push({ file, verdict: v });
    if (measured !== null) all.push({ file, ...known, measured });
    if (options.json) continue;
    if (v.verdict !== "good") print(`${file}: ${v.verdict} (${v.code}): ${v.detail}`);
    else if (v.notes.length > 0) print(`${file}: good; ${v.notes.join("; ")}`);
  }
  const told = await oddFiles(all);
  const bad = checked.filter(({ verdict }) => verdict.verdict === "damaged").length;
  const odd = [...told.values()].filter((one) => one.odd.length > 0).length;
  if (options.json)
    printJson(checked.map(({ file, verdict }) => ({ ...fileReport(file, verdict), ...told.get(file) })));
  else {
    for (const [file, { odd: why }] of told)
      for (const { code, sentence } of why) print(`${file}: odd (${code}): ${sentence}`);
    const { length } = checked;
    print(
      `${length} file${length === 1 ? "" : "s"} looked at, ${bad} damaged${options.odd === true ? `, ${odd} odd` : ""}.`,
    );
  }
  return bad + odd > 0 ? EXIT.frames : EXIT.fine;
}
