/** `plain-tally about`: which version this is, and where its own lies. */
import { configurationFile, dataFolder, home } from "@/server/configuration";
import { installation } from "@/server/installation";
import { EXIT, type ExitCode, print, printJson } from "./command";

export async function aboutCommand({ json }: { readonly json?: boolean }): Promise<ExitCode> {
  const { version, commit } = installation();
  const places = { home: home(), data: dataFolder(), configuration: configurationFile() };
  if (json) printJson({ version, commit, ...places });
  else {
    print(`Plain Tally ${version}, ${commit === null ? "a checkout" : `commit ${commit}`}`);
    print(`installed in    ${places.home}`);
    print(`keeps           ${places.data}`);
    print(`is told by      ${places.configuration}`);
  }
  return EXIT.fine;
}
