/**
 * A movie of PNG frames as we make it, against ffmpeg called on the same frames with the same settings; beside it OpenEXR
 * frames with view, scale and a burnt-in number. Encoding is held against the plain call, which reads nothing back; what
 * decoding all of it again takes is told beside.
 */
import { spawnSync } from "node:child_process";
import fs from "node:fs/promises";
import path from "node:path";
import { USUAL_MOVIE } from "@/core/handover/wish";
import { median } from "@/core/many";
import { PLAN_DEFAULTS, type Plan } from "@/core/plan/plan";
import { createProject } from "@/server/actions/projects";
import { makeShot } from "@/server/actions/shots";
import { migrate } from "@/server/db/migrate";
import { closePool, pool } from "@/server/db/pool";
import { catchUp } from "@/server/folder/check";
import { makeMovie } from "@/server/handover/movie";
import { reelOfSequence } from "@/server/handover/reel";
import { requireSequence } from "@/server/store/shots";
import { type Measured, rounded } from "./measured";
import { emptyRoot } from "./real-run";

const FRAMES = 48;
const SIZE = { width: 1280, height: 720 };
const ROUNDS = 3;
/** Progress at which all pictures are encoded: what follows is reading back. */
const ENCODED = 0.9;
const RATE = { numerator: 24, denominator: 1 };
const FILM = { slug: "bench-film", title: "Bench", rate: RATE, root: "frames", folder: "bench-film" };

function ffmpeg(...args: readonly string[]): void {
  const ended = spawnSync("ffmpeg", ["-v", "error", "-y", ...args]);
  if (ended.status !== 0) throw new Error(`ffmpeg ended with ${ended.status}: ${String(ended.stderr)}`);
}

/** A shot with frames that ffmpeg made: moving shapes with grain. @returns its sequence and their pattern */
async function shotOf(
  root: string,
  code: string,
  plan: Partial<Plan>,
  ending: string,
  how: readonly string[],
): Promise<{ readonly sequenceId: number; readonly pattern: string }> {
  const { sequenceId } = await makeShot(
    FILM.slug,
    { code, title: code, firstFrame: 1, lastFrame: FRAMES, markers: [] },
    {
      ...PLAN_DEFAULTS,
      ...{ scene: "scenes/hl010.json", cameras: ["main"], frames: `1-${FRAMES}`, ...SIZE },
      ...{ timeLine: { first: 1, last: FRAMES, rate: RATE }, rate: RATE, namePattern: "{shot}.{frame}" },
      ...plan,
    },
  );
  const folder = path.join(root, FILM.folder, code, "v001/main/beauty");
  await fs.mkdir(folder, { recursive: true });
  const pattern = path.join(folder, `${code}.%04d.${ending}`);
  const size = `${SIZE.width}x${SIZE.height}`;
  ffmpeg(
    ...[
      "-f",
      "lavfi",
      "-i",
      `testsrc2=size=${size}:rate=24,noise=alls=6:allf=t`,
      "-frames:v",
      String(FRAMES),
    ],
    ...[...how, "-start_number", "1", pattern],
  );
  await catchUp(await requireSequence(sequenceId));
  return { sequenceId, pattern };
}

const seconds = async (work: () => unknown): Promise<number> => {
  const began = performance.now();
  await work();
  return (performance.now() - began) / 1000;
};

export async function encode(home: string): Promise<Measured> {
  const root = await emptyRoot(home);
  try {
    await migrate(pool(), path.join(home, "db"));
    await createProject(FILM);
    await fs.cp(path.join(home, "src/demo/scenes"), path.join(root, FILM.folder, "scenes"), {
      recursive: true,
    });
    const png = await shotOf(root, "PNG", {}, "png", []);
    const exr = await shotOf(
      root,
      "EXR",
      { file: { kind: "exr", depth: "half", compression: "zip" } },
      "exr",
      ["-pix_fmt", "gbrpf32le", "-compression", "zip16", "-format", "half"],
    );
    /** When the last picture was encoded, by the clock of this process. */
    let encodedAt = 0;
    const making = {
      signal: new AbortController().signal,
      onProgress: (share: number) => {
        if (share < ENCODED) encodedAt = 0;
        else if (encodedAt === 0) encodedAt = performance.now();
      },
      say: () => undefined,
    };
    const out = path.join(root, "movie.mp4");
    const ours = async (sequenceId: number, more: Partial<typeof USUAL_MOVIE> = {}): Promise<void> => {
      const reel = await reelOfSequence(sequenceId, "all", "stop");
      await makeMovie(reel, { ...USUAL_MOVIE, sound: "none", ...more }, out, making);
    };
    const plain = (): void =>
      ffmpeg(
        ...["-framerate", "24", "-start_number", "1", "-i", png.pattern, "-c:v", "libx264", "-crf", "16"],
        ...["-preset", "medium", "-pix_fmt", "yuv420p", "-movflags", "+faststart", out],
      );
    const [mine, theirs, whole]: [number[], number[], number[]] = [[], [], []];
    for (let round = 0; round < ROUNDS; round++) {
      theirs.push(await seconds(plain));
      const began = performance.now();
      whole.push(await seconds(() => ours(png.sequenceId)));
      mine.push((encodedAt - began) / 1000);
    }
    const linear = await seconds(() => ours(exr.sequenceId, { percent: 50, burnt: ["frame"], stops: 1 }));
    const ratio = median(mine) / median(theirs);
    return {
      name: "encode",
      value: rounded(FRAMES / median(mine)),
      unit: "frames/s",
      yardstick: rounded(FRAMES / median(theirs)),
      ratio: rounded(ratio),
      goal: `720p PNG to H.264 at most 1.05 times as long as the plain call of ffmpeg (with reading back ${rounded(median(whole) / median(theirs))} times); OpenEXR with view, half size and number: ${rounded(FRAMES / linear)} frames/s`,
      holds: ratio <= 1.05,
    };
  } finally {
    await closePool();
    await fs.rm(root, { recursive: true, force: true });
  }
}
