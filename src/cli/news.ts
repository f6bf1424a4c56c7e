/** `plain-tally news`: what happened over all shots since a moment. */
import { readSince, viewNews } from "@/server/views/news";
import { CallWrong, EXIT, type ExitCode, print, printJson } from "./command";

/** Since so many hours, where nobody says since when: a night. */
const USUAL_HOURS = 12;

export async function newsCommand(options: {
  readonly since?: string;
  readonly json?: boolean;
}): Promise<ExitCode> {
  const since =
    options.since === undefined ? new Date(Date.now() - USUAL_HOURS * 3_600_000) : readSince(options.since);
  if (since === null)
    throw new CallWrong(`--since is a time such as 2026-11-30T20:00:00Z; it is "${options.since}"`);
  const news = await viewNews(since);
  if (options.json) printJson(news);
  else {
    if (news.shots.length + news.edits.length + news.nodes.length === 0) print("Nothing happened.");
    for (const shot of news.shots) {
      print(`${shot.project}/${shot.shot} ${shot.version}: ${shot.sentence}`);
      for (const line of [...shot.made, ...shot.mended, ...shot.eyes, ...shot.still]) print(`  ${line}`);
    }
    for (const edit of news.edits) {
      print(`${edit.project}, the edit`);
      for (const line of [...edit.made, ...edit.eyes, ...edit.still]) print(`  ${line}`);
    }
    for (const node of news.nodes) print(node);
  }
  return [...news.shots, ...news.edits].some((shot) => shot.eyes.length + shot.still.length > 0)
    ? EXIT.frames
    : EXIT.fine;
}
