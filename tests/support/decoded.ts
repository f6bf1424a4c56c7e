/** Movies read back by the programs of others: what ffprobe says of them, and the numbers that their pictures carry. */
import { execFile } from "node:child_process";
import { promisify } from "node:util";
import { BITS } from "./numbered-pictures";

const run = promisify(execFile);
const MOST_OUTPUT = 1 << 28;

export interface ProbedMovie {
  readonly codec: string;
  readonly frames: number;
  /** As a fraction. */
  readonly rate: string;
  readonly width: number;
  readonly height: number;
  /** Seconds from the first picture to the end of the last. */
  readonly duration: number;
  readonly pixels: string;
  readonly colours: string | undefined;
  readonly sounds: number;
}

export async function probe(file: string): Promise<ProbedMovie> {
  const { stdout } = await run("ffprobe", [
    ...["-v", "error", "-count_frames", "-of", "json"],
    ...["-show_entries", "stream:packet=pts_time,duration_time,codec_type", file],
  ]);
  const { streams, packets } = JSON.parse(stdout) as {
    readonly streams: readonly Record<string, string>[];
    readonly packets: readonly Record<string, string>[];
  };
  const pictures = packets.filter((p) => p.codec_type === "video");
  const ends = pictures.map((p) => Number(p.pts_time) + Number(p.duration_time)).sort((a, b) => a - b);
  const starts = pictures.map((p) => Number(p.pts_time)).sort((a, b) => a - b);
  const video = streams.find((s) => s.codec_type === "video")!;
  return {
    codec: video.codec_name!,
    frames: Number(video.nb_read_frames),
    rate: video.r_frame_rate!,
    width: Number(video.width),
    height: Number(video.height),
    duration: ends.at(-1)! - starts[0]!,
    pixels: video.pix_fmt!,
    colours: video.color_space,
    sounds: streams.filter((s) => s.codec_type === "audio").length,
  };
}

/** Raw pixels of every picture, one behind the other. */
export async function decoded(file: string, format: string): Promise<Buffer> {
  const { stdout } = await run(
    "ffmpeg",
    ["-v", "error", "-i", file, "-map", "0:v:0", "-f", "rawvideo", "-pix_fmt", format, "-"],
    { encoding: "buffer", maxBuffer: MOST_OUTPUT },
  );
  return stdout;
}

/** The number in each picture, read from its squares; -1 where it holds none. */
export async function numbersIn(file: string): Promise<number[]> {
  const { width, height } = await probe(file);
  const grey = await decoded(file, "gray");
  const numbers: number[] = [];
  for (let at = 0; at + width * height <= grey.length; at += width * height) {
    let number = 0;
    for (let bit = 0; bit < BITS && number >= 0; bit++) {
      const value = grey[at + Math.floor(height / 4) * width + Math.floor(((bit + 0.5) * width) / BITS)]!;
      number = value > 190 ? number | (1 << bit) : value < 65 ? number : -1;
    }
    numbers.push(number);
  }
  return numbers;
}
