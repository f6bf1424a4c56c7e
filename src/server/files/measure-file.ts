/** What is measured of a picture file, whatever its kind. */
import { type MeasuredPicture, measurePicture } from "@/core/image/measure-picture";
import { isInteger, readPixels } from "./read-pixels";

/**
 * Floats are taken for scene light, integers for what displays show.
 * @throws TallyError `picture-unreadable`
 */
export async function measureFile(name: string, bytes: Buffer): Promise<MeasuredPicture> {
  const picture = await readPixels(name, bytes);
  return measurePicture(picture, !isInteger(picture));
}
