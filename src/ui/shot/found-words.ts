/** Words for files that another program made. */
import type { Alpha } from "@/core/image/file-format";

/** What there is of alpha in another program's files. */
export const FOUND_ALPHA: Readonly<Record<Alpha, string>> = {
  none: "none",
  straight: "beside the colour (straight)",
  premultiplied: "in the colour (premultiplied)",
};
