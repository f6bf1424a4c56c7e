/** High-sample pictures of the demo scenes, and how far another picture is from them. */
import fs from "node:fs/promises";
import { readExr } from "@/core/image/exr";
import type { FloatImage } from "@/core/image/pixels";
import { toDisplay } from "@/render/layers";
import { imageTools } from "@/server/files/image-tools";

export const REFERENCES = [
  { scene: "hl010", camera: "main", frame: 1030 },
  { scene: "hl020", camera: "main", frame: 1036 },
  { scene: "hl030", camera: "main", frame: 1060 },
  { scene: "hl040", camera: "quay", frame: 1072 },
] as const;
export const REFERENCE_SIZE = "96x54";

export async function readLinear(file: string): Promise<FloatImage> {
  const image = readExr(await fs.readFile(file), imageTools.inflate);
  if (image === null) throw new Error(`${file} does not unpack.`);
  return image;
}

/** Mean squared error of what is shown, over all pixels and channels. */
export function shownError(image: FloatImage, reference: FloatImage): number {
  const [a, b] = [toDisplay(image, "beauty").data, toDisplay(reference, "beauty").data];
  if (a.length !== b.length) throw new Error("The pictures differ in size.");
  return a.reduce((sum, v, i) => sum + (v - b[i]!) ** 2, 0) / a.length;
}
