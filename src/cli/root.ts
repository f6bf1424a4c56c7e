/** `plain-tally root`: the folders that projects may lie in, on this machine. */
import path from "node:path";
import { declaredRoots } from "@/server/configuration";
import { pool } from "@/server/db/pool";
import { freeBytes } from "@/server/files/free-space";
import { addRoot, overlappingRoot, removeRoot } from "@/server/roots";
import { listAllProjects } from "@/server/store/projects";
import { listEverySequence } from "@/server/store/shots";
import { EXIT, type ExitCode, print, printJson } from "./command";

interface Told {
  readonly json?: boolean;
}

/** @param folder relative to where the command is called */
export function rootAddCommand(name: string, folder: string, { json }: Told): Promise<ExitCode> {
  const real = addRoot(name, path.resolve(folder));
  const overlap = overlappingRoot(name, real);
  if (json) printJson({ name, folder: real });
  else {
    print(
      `Root ${name} is ${real}. A server that runs knows it at once; nodes of other machines need it too.`,
    );
    if (overlap !== null)
      print(
        overlap.isOuter
          ? `It lies in the root ${overlap.name}: what is taken in below it from now on is kept under ${name}.`
          : `The root ${overlap.name} lies in it: what lies there stays under ${overlap.name}.`,
      );
  }
  return Promise.resolve(EXIT.fine);
}

export async function rootListCommand({ json }: Told): Promise<ExitCode> {
  const roots = await Promise.all(
    Object.entries(declaredRoots()).map(async ([name, folder]) => ({
      name,
      folder,
      freeBytes: await freeBytes(folder),
    })),
  );
  if (json) printJson(roots);
  else
    for (const root of roots)
      print(
        `${root.name}  ${root.folder}  ${root.freeBytes === null ? "cannot be seen" : `${(root.freeBytes / 1e9).toFixed(1)} GB free`}`,
      );
  return roots.every((root) => root.freeBytes !== null) ? EXIT.fine : EXIT.system;
}

export async function rootRemoveCommand(name: string, { json }: Told): Promise<ExitCode> {
  const projects = (await listAllProjects(pool())).filter((p) => p.root === name).map((p) => p.slug);
  const watched = (await listEverySequence(pool()))
    .filter((s) => s.source?.root === name)
    .map((s) => `frames of ${s.project}/${s.shot}`);
  removeRoot(name, [...projects, ...new Set(watched)]);
  if (json) printJson({ removed: name });
  else print(`Root ${name} is declared no more; its folder is as it was.`);
  return EXIT.fine;
}
