/**
 * Turns ascending pieces of a set into canonical runs (see frame-set.ts), whatever way the set was
 * cut into pieces. Keeps three things: `block`, the newest stretch of neighbours, which may still
 * grow; `lone`, an arithmetic series of frames without neighbours, which may still grow; and the
 * finished runs. Constant work a piece, never a frame at a time for long pieces.
 */
import type { FrameSet, Run } from "./frame-runs";

/** Beyond this a set is refused: a million runs are some 50 MB, and no person means such a set. */
export const MAX_RUNS = 1_000_000;

/**
 * Thrown where a set would fall into more runs than anything here is made for. The message is for the person
 * who wrote the phrase.
 */
export class FrameSetTooFragmented extends Error {
  readonly code = "frame-set-too-fragmented";
  constructor() {
    super(
      `This set falls apart into more than ${MAX_RUNS.toLocaleString("en")} separate runs of frames; use fewer or larger steps.`,
    );
    this.name = "FrameSetTooFragmented";
  }
}

/** Pieces in ascending order, each behind the last; `done` gives the set. */
export class RunBuilder {
  readonly #runs: Run[] = [];
  #count = 0;
  #blockFirst = 0;
  #blockLast = 0;
  #hasBlock = false;
  #loneFirst = 0;
  #loneLast = 0;
  #loneStep = 0;
  #loneCount = 0;

  /** Appends first..last by step. Every member must lie above all that was pushed before. */
  push(first: number, last: number, step: number): void {
    if (step === 1 || first === last) {
      this.#pushBlock(first, last);
      return;
    }
    let frame = first;
    while (frame <= last) {
      const previous = frame - step;
      this.#pushBlock(frame, frame);
      // Once the series runs with this step, all but its last member follow in one go; the last
      // stays a block because a neighbour may follow it.
      if (
        this.#blockFirst === frame &&
        this.#loneCount >= 2 &&
        this.#loneStep === step &&
        this.#loneLast === previous &&
        frame < last
      ) {
        this.#loneLast = last - step;
        this.#loneCount = (this.#loneLast - this.#loneFirst) / step + 1;
        this.#blockFirst = this.#blockLast = last;
        return;
      }
      frame += step;
    }
  }

  /** The set; the builder is used up. */
  finish(): FrameSet {
    this.#flushBlock();
    this.#flushLone();
    return { runs: this.#runs, count: this.#count };
  }

  /** Neighbours of the newest stretch make it longer; others begin a new one. */
  #pushBlock(first: number, last: number): void {
    if (this.#hasBlock && first === this.#blockLast + 1) {
      this.#blockLast = last;
      return;
    }
    this.#flushBlock();
    this.#blockFirst = first;
    this.#blockLast = last;
    this.#hasBlock = true;
  }

  /** A stretch that ended: one frame may belong to a series, more are a run. */
  #flushBlock(): void {
    if (!this.#hasBlock) return;
    this.#hasBlock = false;
    if (this.#blockFirst === this.#blockLast) {
      this.#addLone(this.#blockFirst);
    } else {
      this.#flushLone();
      this.#emit(this.#blockFirst, this.#blockLast, 1);
    }
  }

  /** A frame without neighbours goes on with the series, or begins another. */
  #addLone(frame: number): void {
    const step = frame - this.#loneLast;
    if (this.#loneCount === 0) {
      this.#loneFirst = frame;
      this.#loneCount = 1;
    } else if (this.#loneCount === 1) {
      this.#loneStep = step;
      this.#loneCount = 2;
    } else if (step === this.#loneStep) {
      this.#loneCount++;
    } else if (this.#loneCount === 2) {
      this.#emit(this.#loneFirst, this.#loneFirst, 1);
      this.#loneFirst = this.#loneLast;
      this.#loneStep = step;
    } else {
      this.#flushLone();
      this.#loneFirst = frame;
      this.#loneCount = 1;
    }
    this.#loneLast = frame;
  }

  /** Three or more at one distance are a run with a step; fewer are single frames. */
  #flushLone(): void {
    if (this.#loneCount >= 3) {
      this.#emit(this.#loneFirst, this.#loneLast, this.#loneStep);
    } else if (this.#loneCount > 0) {
      this.#emit(this.#loneFirst, this.#loneFirst, 1);
      if (this.#loneCount === 2) this.#emit(this.#loneLast, this.#loneLast, 1);
    }
    this.#loneCount = 0;
  }

  /** Sets that would take more memory than sense are refused here, once for all. */
  #emit(first: number, last: number, step: number): void {
    if (this.#runs.length >= MAX_RUNS) throw new FrameSetTooFragmented();
    this.#count += step === 1 ? last - first + 1 : (last - first) / step + 1;
    this.#runs.push({ first, last, step });
  }
}
