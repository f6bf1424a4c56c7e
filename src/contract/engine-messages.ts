/** What a node and its engine child say to each other. Both come from one build, so types suffice. */

export type ToChild<Job> = { readonly type: "render"; readonly id: number; readonly job: Job };

export type FromChild<Output> =
  | { readonly type: "ready" }
  | { readonly type: "progress"; readonly id: number; readonly share: number }
  | { readonly type: "log"; readonly id: number; readonly level: "info" | "warning" | "error"; readonly text: string }
  | { readonly type: "done"; readonly id: number; readonly output: Output }
  | { readonly type: "failed"; readonly id: number; readonly code: string; readonly message: string };
