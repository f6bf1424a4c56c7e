/** A stage with a server for the tests of one file. */
import { test } from "./alive";
import { openStage, type Stage } from "../support/stage";

export interface OnStage {
  readonly stage: Stage;
  /** Where its server is to be found. */
  readonly address: string;
}

/** Opened before the first test of the file that calls it, at its top, and struck after the last.
 * @param open what else the stage needs
 */
export function onStage(open: () => Promise<Stage> = openStage): OnStage {
  const opened: { stage?: Stage; address?: string } = {};
  test.beforeAll(async () => {
    opened.stage = await open();
    ({ address: opened.address } = await opened.stage.startServer());
  });
  test.afterAll(() => opened.stage?.strike());
  return opened as OnStage;
}
