/**
 * The sound of a shot beside its pictures: begun where the picture is, begun anew where the two have drifted apart (a
 * loop, another range, a stop), and heard for a frame's time where somebody steps. The pictures lead; the sound follows.
 */
import type { SoundSamples } from "@/core/sound/shot-sound";

/** Seconds that sound and picture may be apart before it is begun anew: lips are seen to be off from there on. */
const MOST_DRIFT = 0.08;
/** Heard of a frame that is stepped to, at least: less is a click. */
const LEAST_SCRUB = 0.06;

export class SoundInStep {
  readonly #samples: SoundSamples;
  #context: AudioContext | null = null;
  #buffer: AudioBuffer | null = null;
  #source: AudioBufferSourceNode | null = null;
  /** Of the sound at the moment `#atContext`, in seconds of each clock. */
  #atSound = 0;
  #atContext = 0;
  #speed = 1;

  constructor(samples: SoundSamples) {
    this.#samples = samples;
  }

  /**
   * A picture is on show while it plays forwards.
   * @param seconds of the sound that belong to it
   * @param speed of the pictures against what was planned
   */
  follow(seconds: number, speed: number): void {
    const context = this.#open();
    const now = this.#atSound + (context.currentTime - this.#atContext) * this.#speed;
    if (this.#source !== null && speed === this.#speed && Math.abs(now - seconds) <= MOST_DRIFT * speed)
      return;
    this.#begin(seconds, speed, null);
  }

  /** A frame that is stepped to is heard. @param length of a frame, in seconds */
  scrub(seconds: number, length: number): void {
    this.#begin(seconds, 1, Math.max(LEAST_SCRUB, length));
  }

  silence(): void {
    this.#source?.stop();
    this.#source = null;
  }

  close(): void {
    this.silence();
    void this.#context?.close();
    this.#context = null;
  }

  /** A browser gives it sound only once somebody has pressed a key or a button, as playing takes. */
  #open(): AudioContext {
    this.#context ??= new AudioContext({ sampleRate: this.#samples.sampleRate });
    return this.#context;
  }

  #begin(seconds: number, speed: number, length: number | null): void {
    this.silence();
    const context = this.#open();
    this.#buffer ??= this.#load(context);
    if (seconds >= this.#buffer.duration) return;
    const source = new AudioBufferSourceNode(context, { buffer: this.#buffer, playbackRate: speed });
    source.connect(context.destination);
    // Before the sound begins there is silence until it does.
    const wait = Math.max(0, -seconds / speed);
    source.start(context.currentTime + wait, Math.max(0, seconds), ...(length === null ? [] : [length]));
    this.#source = source;
    this.#atSound = seconds;
    this.#atContext = context.currentTime;
    this.#speed = speed;
  }

  #load(context: AudioContext): AudioBuffer {
    const { channels, sampleRate } = this.#samples;
    const buffer = context.createBuffer(
      Math.max(1, channels.length),
      Math.max(1, channels[0]?.length ?? 1),
      sampleRate,
    );
    channels.forEach((samples, i) => buffer.copyToChannel(new Float32Array(samples), i));
    return buffer;
  }
}
