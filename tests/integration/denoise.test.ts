/** The denoiser against 4,096 samples of the demo's own scenes: the built program, real files. */
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import { readLinear, REFERENCE_SIZE, REFERENCES, shownError } from "../support/references";
import { HOME, runCli } from "../support/stage";

let folder: string;
beforeAll(async () => {
  folder = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-denoise-"));
});
afterAll(() => fs.rm(folder, { recursive: true, force: true }));

test.each(REFERENCES)(
  "$scene: at 8 samples the error is at most half of what it was",
  async ({ scene, camera, frame }) => {
    const out = path.join(folder, `${scene}.exr`);
    const ended = await runCli([
      "render",
      path.join(HOME, "src/demo/scenes", `${scene}.json`),
      "--camera",
      camera,
      "--frame",
      String(frame),
      "--size",
      REFERENCE_SIZE,
      "--samples",
      "8",
      "--depth",
      "float",
      "--passes",
      "beauty,denoised",
      "--out",
      out,
    ]);
    expect(ended.code).toBe(0);
    const reference = await readLinear(path.join(HOME, "tests/fixtures/reference", `${scene}.exr`));
    const [grainy, denoised] = [
      shownError(await readLinear(out), reference),
      shownError(await readLinear(out.replace(".exr", ".denoised.exr")), reference),
    ];
    expect(grainy).toBeGreaterThan(1e-4);
    expect(denoised / grainy).toBeLessThanOrEqual(0.5);
  },
);
