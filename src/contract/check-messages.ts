/** Between the page that checks a folder and its workers: a file each way, and nothing leaves the browser. */
import type { FileVerdict } from "@/core/image/verdict";

/** To a worker; one at a time. */
export interface CheckRequest {
  readonly type: "check";
  readonly id: number;
  readonly file: File;
}

/** From a worker: it is there, or what a file is. */
export type CheckAnswer =
  | { readonly type: "ready" }
  | { readonly type: "checked"; readonly id: number; readonly verdict: FileVerdict };
