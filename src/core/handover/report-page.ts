/** The report of a sequence as one page for paper and screen: what it holds, how it was made, what was wrong and mended. */
import { RESULTS, type Result } from "../tally/tally";
import { escapeHtml, standalonePage } from "./html";

export interface ReportFinding {
  readonly frame: number;
  readonly text: string;
  readonly by: string;
  readonly state: "open" | "dismissed" | "fixed";
  /** Milliseconds since 1970. */
  readonly at: number;
  readonly closedBy: string | null;
  readonly closedAt: number | null;
}

export interface ReportMaker {
  readonly node: string;
  readonly frames: number;
  /** Spent in attempts that made pictures, and in those that did not. */
  readonly madeSeconds: number;
  readonly lostSeconds: number;
  readonly failed: number;
}

/** Who made a file and when, as far as it is known. */
export interface ReportSide {
  readonly node: string | null;
  readonly samples: number | null;
  /** Milliseconds since 1970. */
  readonly at: number | null;
}

/** A frame that was made again. */
export interface ReportRedone {
  readonly frame: number;
  readonly why: readonly string[];
  readonly before: ReportSide;
  /** Null: there is no file of it now. */
  readonly now: ReportSide | null;
  /** JPEG in base 64, null for what cannot be shown; null where there are too many. */
  readonly pictures: { readonly before: string | null; readonly now: string | null } | null;
}

export interface ReportFacts {
  readonly title: string;
  readonly project: string;
  readonly folder: string;
  /** A name of the first file. */
  readonly firstName: string;
  /** Milliseconds since 1970. */
  readonly at: number;
  readonly asked: string;
  readonly askedCount: number;
  readonly sentence: string;
  /** As phrases. */
  readonly results: Readonly<Record<Result, { readonly frames: string; readonly count: number }>>;
  readonly bytes: number;
  readonly duration: string;
  /** Settings of the plan, in words. */
  readonly settings: readonly (readonly [label: string, value: string])[];
  readonly makers: readonly ReportMaker[];
  readonly findings: readonly ReportFinding[];
  readonly redone: readonly ReportRedone[];
  readonly handovers: readonly { readonly what: string; readonly path: string; readonly at: number }[];
  readonly pictures: readonly { readonly frame: number; readonly jpeg: string }[];
}

/** As people read it anywhere: the report may be opened in another zone. */
const timeText = (ms: number): string => `${new Date(ms).toISOString().slice(0, 16).replace("T", " ")} UTC`;

const hours = (seconds: number): string =>
  seconds < 60
    ? `${seconds.toFixed(1)} s`
    : seconds < 3600
      ? `${Math.floor(seconds / 60)} min ${Math.round(seconds % 60)} s`
      : `${Math.floor(seconds / 3600)} h ${Math.round((seconds % 3600) / 60)} min`;

const sizeText = (bytes: number): string =>
  bytes < 1e6
    ? `${(bytes / 1e3).toFixed(0)} kB`
    : bytes < 1e9
      ? `${(bytes / 1e6).toFixed(1)} MB`
      : `${(bytes / 1e9).toFixed(2)} GB`;

const cell = (text: string, isNumber = false): string =>
  `<td${isNumber ? ' class="number"' : ""}>${escapeHtml(text)}</td>`;
const row = (label: string, value: string): string => `<tr><th>${escapeHtml(label)}</th>${cell(value)}</tr>`;
const table = (rows: readonly string[], head = ""): string => `<table>${head}${rows.join("\n")}</table>`;

const FINDING_STATE = { open: "open", dismissed: "dismissed", fixed: "mended" } as const;

function findingLine(finding: ReportFinding): string {
  const closed =
    finding.closedAt === null
      ? ""
      : `${finding.closedBy === null ? "" : `${finding.closedBy}, `}${timeText(finding.closedAt)}`;
  return `<tr>${cell(String(finding.frame), true)}${cell(finding.text)}${cell(`${finding.by}, ${timeText(finding.at)}`)}${cell(`${FINDING_STATE[finding.state]}${closed === "" ? "" : `: ${closed}`}`)}</tr>`;
}

const sideText = ({ node, samples, at }: ReportSide): string =>
  [
    ...(node === null ? [] : [`by ${node}`]),
    ...(samples === null ? [] : [`${samples} samples`]),
    ...(at === null ? [] : [timeText(at)]),
  ].join(", ");

const shown = (jpeg: string | null, what: string): string =>
  jpeg === null
    ? '<span class="soft">cannot be shown</span>'
    : `<img src="data:image/jpeg;base64,${jpeg}" alt="${escapeHtml(what)}" style="width:100%"><br>`;

function redoneBlock({ frame, why, before, now, pictures }: ReportRedone): string {
  const said = `<p><b>${frame}</b> ${why.length === 0 ? "rendered again" : escapeHtml(why.join("; "))}</p>`;
  const side = (name: "before" | "now", of: ReportSide | null): string =>
    `<span style="flex:1">${pictures === null || of === null ? "" : shown(pictures[name], `Frame ${frame} ${name}`)}<span class="soft">${name}${of === null ? ": no file" : `: ${escapeHtml(sideText(of))}`}</span></span>`;
  return `<div style="break-inside:avoid;margin-top:14px">${said}<p style="display:flex;gap:12px">${side("before", before)}${side("now", now)}</p></div>`;
}

/** More lines than that are no report: the CSV has them all. */
const FINDINGS_TOLD = 1_000;

export function reportPage(facts: ReportFacts): string {
  const told = facts.findings.slice(0, FINDINGS_TOLD);
  const results = RESULTS.filter((result) => facts.results[result].count > 0);
  const parts = [
    `<h1>${escapeHtml(facts.title)}</h1>`,
    `<p class="soft">${escapeHtml(facts.project)} · told ${timeText(facts.at)}</p>`,
    `<p>${escapeHtml(facts.sentence)}</p>`,
    facts.pictures.length === 0
      ? ""
      : `<p style="display:flex;gap:12px;margin-top:14px">${facts.pictures
          .map(
            ({ frame, jpeg }) =>
              `<span style="flex:1"><img src="data:image/jpeg;base64,${jpeg}" alt="Frame ${frame}" style="width:100%"><br><span class="soft">${frame}</span></span>`,
          )
          .join("")}</p>`,
    "<h2>What it holds</h2>",
    table([
      row("Frames of the plan", `${facts.asked} (${facts.askedCount})`),
      ...results.map((result) =>
        row(result, `${facts.results[result].count}: ${facts.results[result].frames}`),
      ),
      row("Lasts", facts.duration),
      row("On disk", sizeText(facts.bytes)),
      row("Folder", facts.folder),
      row("Named as", facts.firstName),
    ]),
    "<h2>How it was made</h2>",
    table(facts.settings.map(([label, value]) => row(label, value))),
    facts.makers.length === 0
      ? '<p class="soft">Nobody knows who made its frames.</p>'
      : table(
          facts.makers.map(
            (m) =>
              `<tr>${cell(m.node)}${cell(String(m.frames), true)}${cell(hours(m.madeSeconds), true)}${cell(String(m.failed), true)}${cell(hours(m.lostSeconds), true)}</tr>`,
          ),
          '<tr><th>Node</th><th class="number">Frames</th><th class="number">Time in them</th><th class="number">Failed attempts</th><th class="number">Time lost</th></tr>',
        ),
    "<h2>What was wrong</h2>",
    facts.findings.length === 0
      ? '<p class="soft">Nothing was found against these frames.</p>'
      : table(
          told.map(findingLine),
          '<tr><th class="number">Frame</th><th>What</th><th>Found by</th><th>What became of it</th></tr>',
        ),
    told.length < facts.findings.length
      ? `<p class="soft">And ${facts.findings.length - told.length} more.</p>`
      : "",
    ...(facts.redone.length === 0 ? [] : [`<h2>What was made again</h2>`, ...facts.redone.map(redoneBlock)]),
    ...(facts.handovers.length === 0
      ? []
      : [
          "<h2>What was handed over</h2>",
          table(facts.handovers.map((h) => `<tr>${cell(h.what)}${cell(h.path)}${cell(timeText(h.at))}</tr>`)),
        ]),
  ];
  return standalonePage(`${facts.title}: report`, parts.filter((part) => part !== "").join("\n"));
}
