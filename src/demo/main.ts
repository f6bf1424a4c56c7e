/** Steps of the demo that need the program itself: `demo.mjs seed`, `mess`, `large` and `scale`. */
import { closePool } from "@/server/db/pool";
import { makeLarge } from "./large";
import { isMessed, makeMess } from "./mess";
import { makeScale, SCALES } from "./scale";
import { seed } from "./seed";

async function main(step: string | undefined, rest: readonly string[]): Promise<void> {
  if (step === "seed") {
    const fresh = await seed({ hasItsNodes: true });
    process.stdout.write(JSON.stringify({ fresh, messed: await isMessed() }));
  } else if (step === "large") {
    const [frames, shots] = rest.map((text) => (text === "-" ? null : Number(text)));
    process.stdout.write(JSON.stringify(await makeLarge({ frames: frames ?? null, shots: shots ?? null })));
  } else if (step === "scale") await makeScale("wide-sea", "WS", SCALES.large);
  else if (step === "mess") await makeMess();
  else throw new Error(`demo.mjs has no step "${step ?? ""}"`);
}

main(process.argv[2], process.argv.slice(3))
  .finally(() => closePool())
  .catch((error: Error) => {
    process.stderr.write(`${error.stack}\n`);
    process.exitCode = 1;
  });
