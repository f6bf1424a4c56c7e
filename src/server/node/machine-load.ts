/**
 * How busy other programs kept the machine while a frame was rendered: a proof timed beside them is no
 * measure.
 */
import os from "node:os";

/** Busy and all seconds of all processors since the machine started. */
function processorSeconds(): { readonly busy: number; readonly all: number } {
  let busy = 0,
    all = 0;
  for (const { times } of os.cpus()) {
    const sum = times.user + times.nice + times.sys + times.irq + times.idle;
    busy += sum - times.idle;
    all += sum;
  }
  return { busy: busy / 1000, all: all / 1000 };
}

/**
 * Begins to measure. `others` tells the share of the machine, 0 to 1, that everything but the given seconds
 * took since then; null when too little time passed to tell.
 */
export function measureLoad(): { readonly others: (ownSeconds: number) => number | null } {
  const before = processorSeconds();
  return {
    others: (ownSeconds) => {
      const now = processorSeconds();
      const all = now.all - before.all;
      return all < 0.2 ? null : Math.min(1, Math.max(0, (now.busy - before.busy - ownSeconds) / all));
    },
  };
}
