/** What whoever makes something is given, and what they tell of it. */
import type { Rate } from "@/core/timing/rate";

export interface Making {
  readonly signal: AbortSignal;
  /** From 0 to 1. */
  readonly onProgress: (share: number) => void;
  readonly say: (line: string) => void;
}

export interface Made {
  readonly frames: number;
  readonly rate: Rate;
  readonly seconds: number;
  readonly warnings: readonly string[];
}
