/** A rate as a person writes it. */
import { parseRate, type Rate } from "@/core/timing/rate";
import { TallyError } from "../errors";

/** @throws TallyError `project-wrong`, at the field `rate` */
export function rateOf(text: string): Rate {
  const rate = parseRate(text);
  if (rate === null)
    throw new TallyError("project-wrong", {
      message: `"${text}" is no frame rate; write 24, 23.976 or a fraction such as 24000/1001.`,
    }).at("rate");
  return rate;
}
