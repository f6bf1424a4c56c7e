/** Between the page that reads a log and its worker: the file one way, what it says the other; nothing is sent anywhere. */
import type { LogRead } from "@/core/review/log-reader";

export interface ReadLogRequest {
  readonly type: "read";
  readonly file: File;
  /** Patterns that have been read already. */
  readonly sources: readonly string[];
}

export type ReadLogAnswer =
  | { readonly type: "ready" }
  | { readonly type: "so-far"; readonly bytes: number; readonly lines: number }
  | { readonly type: "read"; readonly read: LogRead }
  | { readonly type: "failed"; readonly message: string };
