/** What an attempt measured that took next to no time: where the queue itself stands in for the nodes. */
import { NO_GATHER } from "@/core/run/gathered-light";
import type { AttemptMeasures } from "@/server/store/task-state";

export const NOTHING: AttemptMeasures = {
  startupSeconds: 0,
  light: NO_GATHER,
  renderSeconds: 0,
  denoiseSeconds: 0,
  writeSeconds: 0,
  samples: 1,
  samplesAdded: 1,
  stoppedBy: "samples",
  otherLoad: null,
  cpuShare: null,
};
