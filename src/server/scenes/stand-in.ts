/**
 * What the renderer that comes along is called in fingerprints and files.
 * Its version changes when its pictures do: frames of before are stale then, and say why.
 */
import { RENDERER_VERSION } from "@/render/render-frame";

/** Part of the look fingerprint. `Math.*` may round differently in another V8, so its version counts. */
export const ENGINE = `stand-in ${RENDERER_VERSION}, V8 ${process.versions.v8.split(".").slice(0, 2).join(".")}`;
