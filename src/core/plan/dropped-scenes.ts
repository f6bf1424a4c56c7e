/**
 * Where files that somebody drops go below a project's `scenes/`, so that each scene finds what it uses. A folder
 * keeps its shape; a texture that was dropped beside its scene, without the folder that the scene names, goes into
 * that folder.
 */

export interface DroppedFile {
  /** With slashes, as it was dropped: `lamp/scene.json`, or the bare name. */
  readonly path: string;
  /** Files that it uses, relative to its own folder, where it is a scene; null for anything else. */
  readonly uses: readonly string[] | null;
}

export interface PlacedFile {
  /** As it was dropped. */
  readonly path: string;
  /** Below `scenes/`. */
  readonly to: string;
}

export interface PlacedScenes {
  readonly files: readonly PlacedFile[];
  /** Where each scene goes, below `scenes/`. */
  readonly scenes: readonly string[];
  /** What scenes use and nobody dropped; it may lie there already. */
  readonly missing: readonly { readonly scene: string; readonly name: string }[];
}

const folderOf = (path: string): string => path.slice(0, path.lastIndexOf("/") + 1);
const nameOf = (path: string): string => path.slice(path.lastIndexOf("/") + 1);

/** Joined and with `..` taken out; null where it leads out of everything. */
function join(folder: string, name: string): string | null {
  const parts: string[] = [];
  for (const part of `${folder}${name}`.split("/")) {
    if (part === "" || part === ".") continue;
    if (part !== "..") parts.push(part);
    else if (parts.pop() === undefined) return null;
  }
  return parts.join("/");
}

/** @param files all that was dropped at once */
export function placeDropped(files: readonly DroppedFile[]): PlacedScenes {
  const to = new Map(files.map((file) => [file.path, file.path]));
  const missing: { scene: string; name: string }[] = [];
  const scenes = files.filter((file) => file.uses !== null);
  for (const scene of scenes)
    for (const name of scene.uses!) {
      const wanted = join(folderOf(scene.path), name);
      if (wanted !== null && [...to.values()].includes(wanted)) continue;
      const beside = files.find((file) => file.uses === null && nameOf(file.path) === nameOf(name));
      // What another scene has a use for at its own place is not moved away from there.
      if (wanted !== null && beside !== undefined && to.get(beside.path) === beside.path)
        to.set(beside.path, wanted);
      else missing.push({ scene: scene.path, name });
    }
  return {
    files: files.map(({ path }) => ({ path, to: to.get(path)! })),
    scenes: scenes.map(({ path }) => path),
    missing,
  };
}

/** What scene files of the stand-in renderer call themselves. */
const SCENE_FORMAT = /^plain-tally-scene\//;

/**
 * Files that a scene of the stand-in renderer uses, each once; null for what is no such scene. Reads as far as it
 * understands: whether the scene is right in all is judged where it is taken in.
 */
export function usedByScene(value: unknown): readonly string[] | null {
  if (typeof value !== "object" || value === null) return null;
  const { format, materials } = value as { readonly format?: unknown; readonly materials?: unknown };
  if (typeof format !== "string" || !SCENE_FORMAT.test(format)) return null;
  const all: readonly unknown[] =
    typeof materials === "object" && materials !== null ? Object.values(materials) : [];
  const textures = all.map((material) => (material as { readonly texture?: unknown } | null)?.texture);
  return [...new Set(textures.filter((name): name is string => typeof name === "string"))];
}
