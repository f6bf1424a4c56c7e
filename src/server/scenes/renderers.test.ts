import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { declaredInDocs } from "../../../tests/support/lantern";
import { engineOf, offerOfRenderer, rendererOffers } from "./renderers";

let home: string;
beforeEach(() => {
  home = fs.mkdtempSync(path.join(os.tmpdir(), "plain-tally-renderers-"));
  process.env.PLAIN_TALLY_HOME = home;
  delete process.env.PLAIN_TALLY_DATABASE_URL;
  fs.writeFileSync(
    path.join(home, "plain-tally.config.json"),
    JSON.stringify({ renderers: declaredInDocs("lantern") }),
  );
});
afterEach(() => fs.rmSync(home, { recursive: true, force: true }));

test("a machine that has no database knows its renderers, as one with a hand-out must", () => {
  expect(rendererOffers().map((o) => o.name)).toEqual(["stand-in", "lantern"]);
  expect(offerOfRenderer("lantern").passes.length).toBeGreaterThan(1);
  expect(engineOf("lantern")).toMatch(/^lantern .*call [0-9a-f]{12}$/);
});
