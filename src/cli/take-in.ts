/** `plain-tally take-in`: the tally of a folder that something else has filled, or fills. */
import path from "node:path";
import type { FoundChoice } from "@/contract/take-in";
import { firstOf, lastOf } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { ALPHAS } from "@/core/image/file-format";
import { isPass, PASSES } from "@/core/plan/passes";
import { versionName } from "@/core/plan/plan";
import { parseRate, type Rate } from "@/core/timing/rate";
import { takeIn, type TakenIn } from "@/server/actions/take-in";
import { pool } from "@/server/db/pool";
import { catchUpAll } from "@/server/folder/catch-up-all";
import { type FoundFolder, lookAtFolder } from "@/server/folder/found-folder";
import { placeBelowRoot } from "@/server/folder/place-below-root";
import { sequencesOfVersion } from "@/server/store/shots";
import { CallWrong, EXIT, type ExitCode, oneOf, print, printJson } from "./command";
import { projectOf } from "./project-of";
import { whoCalls } from "./who";

export interface TakeInOptions {
  readonly project?: string;
  readonly shot: string;
  readonly title?: string;
  readonly as: readonly string[];
  readonly rate?: string;
  readonly alpha?: string;
  readonly linear?: boolean;
  readonly display?: boolean;
  /** False: a server that runs looks at the files. */
  readonly check: boolean;
  readonly dryRun?: boolean;
  readonly json?: boolean;
}

function readRate(text: string | undefined): Rate | null {
  if (text === undefined) return null;
  const rate = parseRate(text);
  if (rate === null) throw new CallWrong(`--rate must be 24, 23.976 or a fraction; it is "${text}"`);
  return rate;
}

function readLinear({ linear, display }: TakeInOptions): boolean | null {
  if (linear === true && display === true) throw new CallWrong("--linear and --display exclude each other");
  return linear === true ? true : display === true ? false : null;
}

/** A sequence as it is told, from the folder that was pointed at. */
const nameOf = ({
  folder,
  found,
}: {
  readonly folder: string;
  readonly found: { readonly name: string };
}): string => (folder === "" ? found.name : `${folder}/${found.name}`);

/**
 * `depth/quay.####.exr=camB/depth`: what is named so is taken in as that, all others as they seem to be.
 * @throws CallWrong
 */
function readChoices(found: FoundFolder, corrections: readonly string[]): readonly FoundChoice[] | null {
  if (corrections.length === 0) return null;
  const choices = found.sequences.map((s) => ({
    name: nameOf(s),
    folder: s.folder,
    prefix: s.found.prefix,
    suffix: s.found.suffix,
    camera: s.camera,
    pass: s.pass,
  }));
  for (const correction of corrections) {
    const [, name, camera, pass] = /^(.+)=([^/=]+)\/([^/=]+)$/.exec(correction) ?? [];
    if (name === undefined || camera === undefined || pass === undefined)
      throw new CallWrong(
        `--as takes NAME=CAMERA/PASS, such as "depth/quay.####.exr=main/depth"; it is "${correction}"`,
      );
    if (!isPass(pass))
      throw new CallWrong(`--as: there is no pass "${pass}"; there are ${PASSES.join(", ")}`);
    const meant = choices.find((c) => c.name === name);
    if (meant === undefined)
      throw new CallWrong(
        `--as: there is no sequence ${name}; there are ${choices.map((c) => c.name).join(", ")}`,
      );
    Object.assign(meant, { camera, pass });
  }
  return choices.map(({ folder, prefix, suffix, camera, pass }) => ({
    folder,
    prefix,
    suffix,
    camera,
    pass,
  }));
}

/** As programs read it. */
const viewOf = (taken: TakenIn, { others, leftovers }: FoundFolder): object => ({
  shot: taken.shot,
  version: versionName(taken.version),
  sequences: taken.sequences.map(({ camera, pass, found: s, size }) => ({
    name: s.name,
    camera,
    pass,
    first: firstOf(s.frames),
    last: lastOf(s.frames),
    count: s.frames.count,
    missing: formatPhrase(s.missing),
    doubles: s.doubles,
    width: size?.width ?? null,
    height: size?.height ?? null,
  })),
  others,
  leftovers,
});

const DID: Readonly<Record<TakenIn["did"], string>> = {
  made: "is taken in",
  added: "watches more of it now",
  unchanged: "watches it already",
};

/** Names of a list that a person reads; programs get all. */
const SHOWN = 20;
const some = (names: readonly string[]): string =>
  names.length > SHOWN
    ? `${names.slice(0, SHOWN).join(", ")} and ${names.length - SHOWN} more`
    : names.join(", ");

function printTaken(taken: TakenIn, found: FoundFolder, isDry: boolean): void {
  const what = `${taken.shot} ${versionName(taken.version)}`;
  print(isDry ? `${what} would come of it:` : `${what} ${DID[taken.did]}.`);
  for (const s of taken.sequences) {
    const gaps = formatPhrase(s.found.missing);
    print(
      `${s.camera} ${s.pass}: ${nameOf(s)}  ${firstOf(s.found.frames)}-${lastOf(s.found.frames)}, ${s.found.frames.count} frames${gaps === "" ? "" : `, missing ${gaps}`}${s.size === null ? "" : `, ${s.size.width} x ${s.size.height}`}`,
    );
  }
  if (found.others.length > 0) print(`Other files: ${some(found.others)}`);
  if (found.leftovers.length > 0) print(`Left over: ${some(found.leftovers)}`);
  for (const { folder, errno } of found.unreadable) print(`${folder} cannot be read (${errno}).`);
  if (found.links.length > 0) print(`Links to folders, not followed: ${found.links.join(", ")}`);
}

/** @param folder relative to where the command is called */
export async function takeInCommand(folder: string, options: TakeInOptions): Promise<ExitCode> {
  const slug = await projectOf(options.project);
  const isDry = options.dryRun === true;
  const found = await lookAtFolder(await placeBelowRoot(path.resolve(folder)), { isAlone: true });
  const [top] = found.unreadable;
  if (top?.folder === "") throw new CallWrong(`${folder} cannot be read (${top.errno})`);
  const taken = await takeIn(
    slug,
    found,
    {
      code: options.shot,
      title: options.title ?? null,
      sequences: readChoices(found, options.as),
      rate: readRate(options.rate),
      alpha: options.alpha === undefined ? null : oneOf("--alpha", options.alpha, ALPHAS),
      isLinear: readLinear(options),
    },
    { isDry, who: whoCalls() },
  );
  if (!isDry && options.check)
    await catchUpAll(await sequencesOfVersion(pool(), taken.versionId), (left) =>
      process.stderr.write(`${left} files to look at\n`),
    );
  if (options.json) printJson(viewOf(taken, found));
  else printTaken(taken, found, isDry);
  return EXIT.fine;
}
