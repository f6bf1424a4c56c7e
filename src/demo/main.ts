/** Steps of the demo that need the program itself: `demo.mjs seed` and `demo.mjs mess`. */
import { closePool } from "@/server/db/pool";
import { isMessed, makeMess } from "./mess";
import { seed } from "./seed";

async function main(step: string | undefined): Promise<void> {
  if (step === "seed") {
    const fresh = await seed();
    process.stdout.write(JSON.stringify({ fresh, messed: await isMessed() }));
  } else if (step === "mess") await makeMess();
  else throw new Error(`demo.mjs has no step "${step ?? ""}"`);
}

main(process.argv[2])
  .finally(() => closePool())
  .catch((error: Error) => {
    process.stderr.write(`${error.stack}\n`);
    process.exitCode = 1;
  });
