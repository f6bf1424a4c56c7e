/**
 * Files that go out piece by piece: only so many at once, for each holds a file open and pieces of it in memory; and one that
 * nobody reads any further is ended.
 */
import { pipeline, Readable, Transform } from "node:stream";
import { TallyError } from "../errors";

/** Of the whole house: pages ask for one, a script in a loop gets to know the bound. */
export const MOST_DOWNLOADS = 16;
/** A phone in a lift comes back sooner. */
const RESTS_MS = 120_000;
const LOOK_MS = 10_000;

let going = 0;

/** How many go out now. */
export const downloadsNow = (): number => going;

/**
 * @param open makes the stream, once there is room for it
 * @throws TallyError `too-many-downloads`, and what `open` throws
 */
export async function sendStream(
  open: () => Promise<Readable>,
  headers: Readonly<Record<string, string>>,
): Promise<Response> {
  if (going >= MOST_DOWNLOADS) throw new TallyError("too-many-downloads");
  going++;
  const source = await open().catch((error: unknown) => {
    going--;
    throw error;
  });
  let readAt = performance.now();
  const read = new Transform({
    transform: (piece: Buffer, _encoding, done) => {
      readAt = performance.now();
      done(null, piece);
    },
  });
  const watch = setInterval(() => {
    if (performance.now() - readAt > RESTS_MS) read.destroy(new Error("nobody reads it"));
  }, LOOK_MS);
  watch.unref();
  // Called once, however it ends: read to its end, given up by the browser, or broken.
  pipeline(source, read, () => {
    going--;
    clearInterval(watch);
  });
  return new Response(Readable.toWeb(read) as ReadableStream, { headers });
}
