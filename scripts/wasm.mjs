// npm run wasm: makes the WebAssembly of the loops that see every pixel, as a module that everything can import.
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { pictureRowsModule, PICTURE_ROWS_MODULE } from "./lib/wasm.mjs";
import { step } from "./lib/steps.mjs";

const home = join(import.meta.dirname, "..");
writeFileSync(join(home, PICTURE_ROWS_MODULE), await pictureRowsModule(home));
step(`${PICTURE_ROWS_MODULE} is made.`);
