/**
 * A small scene that exercises what the renderer has: a texture, motion inside the shutter, glass, metal, a
 * lamp.
 */
import fs from "node:fs/promises";
import path from "node:path";
import type { Scene } from "@/contract/scene";
import { rgb8 } from "@/core/image/pixels";
import { writePng } from "@/core/image/png-write";
import { imageTools } from "@/server/files/image-tools";

export const TEST_SCENE: Scene = {
  format: "plain-tally-scene/1",
  frameRate: 24,
  shutter: 0.5,
  exposure: 1,
  sky: {
    zenith: [0.3, 0.5, 0.9],
    horizon: [0.9, 0.9, 0.9],
    ground: [0.2, 0.2, 0.2],
    sun: { direction: [0.4, 0.8, 0.3], colour: [1, 0.95, 0.9], strength: 2, angle: 2 },
  },
  cameras: [
    { name: "main", position: [0, 1.5, 5], target: [0, 0.8, 0], focalLength: 35 },
    { name: "side", position: [5, 1.5, 0], target: [0, 0.8, 0], focalLength: 35 },
  ],
  materials: {
    floor: { kind: "diffuse", colour: [0.9, 0.9, 0.9], texture: "textures/check.png" },
    ball: { kind: "metal", colour: [0.9, 0.7, 0.4], roughness: 0.1 },
    pane: { kind: "glass", thin: true },
    lamp: { kind: "emitter", colour: [1, 0.8, 0.5], strength: 8 },
  },
  bodies: [
    { shape: "plane", material: "floor" },
    {
      shape: "sphere",
      material: "ball",
      position: {
        keys: [
          { frame: 1, value: [-2, 1, 0], ease: "linear" },
          { frame: 24, value: [2, 1, 0] },
        ],
      },
    },
    { shape: "box", material: "pane", position: [1.6, 0.8, 1], scale: [0.5, 0.8, 0.05] },
    { shape: "sphere", material: "lamp", position: [-1.5, 2.2, 1], scale: [0.2, 0.2, 0.2] },
    { shape: "torus", material: "ball", position: [0, 0.3, 1.5], scale: [0.5, 0.5, 0.5] },
  ],
};

const SIZE = 8;

/** Writes the scene and its texture below a project's folder. */
export async function writeScene(
  projectFolder: string,
  scene: unknown = TEST_SCENE,
  name = "test.json",
): Promise<void> {
  const folder = path.join(projectFolder, "scenes");
  await fs.mkdir(path.join(folder, "textures"), { recursive: true });
  const data = Uint8Array.from({ length: SIZE * SIZE * 3 }, (_, i) =>
    (Math.floor(i / 3) + Math.floor(i / 3 / SIZE)) % 2 === 0 ? 220 : 60,
  );
  await fs.writeFile(
    path.join(folder, "textures/check.png"),
    writePng(rgb8(SIZE, SIZE, data), {}, imageTools),
  );
  await fs.writeFile(path.join(folder, name), typeof scene === "string" ? scene : JSON.stringify(scene));
}
