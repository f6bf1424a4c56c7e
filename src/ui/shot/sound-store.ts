/** Sounds as the browser decodes them, by address: it knows more kinds of files than we would. */
import type { SoundSamples } from "@/core/sound/shot-sound";

/** Decoded sounds take four bytes a sample: a few shots' worth is kept. */
const MOST = 4;
/** Decoded, a packed sound is ten times as large, and the page holds all of it. */
const MOST_BYTES = 300e6;

const known = new Map<string, Promise<SoundSamples>>();

async function decode(url: string): Promise<SoundSamples> {
  const answer = await fetch(url);
  if (!answer.ok) throw new Error("its file cannot be read");
  const size = Number(answer.headers.get("content-length"));
  if (size > MOST_BYTES) {
    await answer.body?.cancel();
    throw new Error(`its file is larger than ${MOST_BYTES / 1e6} MB and is not drawn`);
  }
  const bytes = await answer.arrayBuffer();
  // Nothing is played by it; the rate is that of most sounds, and all are resampled to it.
  const context = new OfflineAudioContext(1, 1, 48_000);
  const buffer = await context.decodeAudioData(bytes).catch(() => {
    throw new Error("this browser cannot read such a file");
  });
  return {
    channels: Array.from({ length: buffer.numberOfChannels }, (_, i) => buffer.getChannelData(i)),
    sampleRate: buffer.sampleRate,
  };
}

/** @throws Error with the end of a sentence; the same address is tried again the next time */
export function decodedSound(url: string): Promise<SoundSamples> {
  const before = known.get(url);
  if (before !== undefined) return before;
  const sound = decode(url);
  known.set(url, sound);
  sound.catch(() => known.delete(url));
  for (const oldest of known.keys()) {
    if (known.size <= MOST) break;
    known.delete(oldest);
  }
  return sound;
}
