/** Texts of the Nodes page. */
import type { NodeView } from "@/contract/api";

export const NODE_STATE_WORD: Readonly<Record<NodeView["state"], string>> = { "at-work": "at work", idle: "free, waits for frames", paused: "paused", away: "not heard of", stopped: "stopped" };

/** How polite its renderers are to other programs on the machine, by what the system calls niceness. */
export const NICE_TEXT: Readonly<Record<string, string>> = { 0: "not at all", 5: "a little", 10: "clearly", 19: "takes only what is idle" };
