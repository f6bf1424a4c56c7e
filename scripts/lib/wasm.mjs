// What AssemblyScript makes of the loops that see every pixel. The module is kept in the repository, so that neither
// builds nor tests need the compiler; a test makes it again and compares.
import { main } from "assemblyscript/asc";

const SOURCE = "src/core/image/wasm/picture-rows.ts";
export const PICTURE_ROWS_MODULE = "src/core/image/picture-rows-wasm.ts";

/** @param {string} home @returns {Promise<string>} the text of the module */
export async function pictureRowsModule(home) {
  let code = null;
  const { error, stderr } = await main(
    [
      SOURCE,
      "--outFile",
      "code",
      "-O3",
      "--runtime",
      "stub",
      "--enable",
      "simd",
      "--noAssert",
      "--baseDir",
      home,
    ],
    { writeFile: (_, contents) => void (code = contents) },
  );
  if (error !== null || code === null) throw new Error(`${SOURCE}: ${stderr.toString()}`);
  const base64 = Buffer.from(code).toString("base64");
  return [
    `/** Made by \`npm run wasm\` from \`wasm/picture-rows.ts\`: never edit it. */`,
    "export const PICTURE_ROWS_WASM =",
    `  "${base64}";`,
    "",
  ].join("\n");
}
