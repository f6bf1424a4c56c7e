/** What an attempt measured that took next to no time: where the queue itself stands in for the nodes. */
import { NO_LIGHTING } from "@/core/run/lighting";
import type { AttemptMeasures } from "@/server/queue/lease";

export const NOTHING: AttemptMeasures = {
  startupSeconds: 0,
  lighting: NO_LIGHTING,
  renderSeconds: 0,
  denoiseSeconds: 0,
  writeSeconds: 0,
  samples: 1,
  samplesAdded: 1,
  stoppedBy: "samples",
  otherLoad: null,
};
