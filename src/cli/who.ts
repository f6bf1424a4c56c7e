/** Under which name commands act: PLAIN_TALLY_WHO, else the account. */
import os from "node:os";
import { LONGEST_PERSON, nameFault } from "@/core/naming/name";
import type { Who } from "@/contract/who";
import { CallWrong } from "./command";

/** @throws CallWrong for a name that none can be */
export function whoCalls(): Who {
  const given = process.env.PLAIN_TALLY_WHO;
  if (given === undefined || given === "") {
    try {
      return os.userInfo().username;
    } catch {
      // A container may have no account for its number.
      return null;
    }
  }
  const fault = nameFault(given, LONGEST_PERSON);
  if (fault !== null) throw new CallWrong(`PLAIN_TALLY_WHO: the name ${fault}.`);
  return given;
}
