/**
 * What a node and its engine child say to each other. Both come from one build, so types suffice.
 * A message belongs to the frame of its `id`; one of an earlier frame is not heard any more. The child says
 * `ready` once. After `render` come any number of tellings and then either `done` or `failed`, exactly
 * once.
 */
import type { FaultCode } from "./faults";

export type ToChild<Job> =
  | { readonly type: "render"; readonly id: number; readonly job: Job }
  | { readonly type: "stop"; readonly id: number };

export type FromChild<Result, Saved> =
  | { readonly type: "ready" }
  | { readonly type: "progress"; readonly id: number; readonly share: number }
  | {
      readonly type: "log";
      readonly id: number;
      readonly level: "info" | "warning" | "error";
      readonly text: string;
    }
  | { readonly type: "checkpoint"; readonly id: number; readonly saved: Saved }
  | { readonly type: "no-room"; readonly id: number; readonly bytes: number }
  | { readonly type: "preview"; readonly id: number; readonly jpeg: Uint8Array }
  | { readonly type: "done"; readonly id: number; readonly result: Result }
  | { readonly type: "failed"; readonly id: number; readonly code: FaultCode; readonly message: string };
