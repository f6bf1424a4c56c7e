/**
 * What each operation takes in its body: the checker that its route reads it through, by the checker's name. A test holds that
 * route and table say the same. Loads Ajv: not for pages.
 */
import {
  checkChangeRun,
  checkClearFlag,
  checkDecideVersion,
  checkDiscard,
  checkFlag,
  checkImportEdit,
  checkImportPreset,
  checkOpenVersion,
  checkPutBack,
  checkRenamePreset,
  checkSavePlan,
  checkSavePreset,
  checkStartProofs,
  checkStartRun,
  checkStopRun,
  checkTakeBack,
} from "./bodies";
import { checkMoviePreset, checkWish } from "./handover";
import { checkInvite } from "./invitation-view";
import { checkLogFacts } from "./log-facts";
import { checkNodeSettings, checkPause, checkSetAside } from "./node-settings";
import { checkJudge, checkThresholds } from "./odd-view";
import { checkChangePerson, checkNewPerson, checkSignIn } from "./people";
import {
  checkBringInEdit,
  checkBringInList,
  checkBringInShots,
  checkChangeProject,
  checkChangeShot,
  checkCopyShot,
  checkNewProject,
} from "./project-bodies";
import { checkSendRun } from "./cluster";
import { checkReplaced } from "./replaced";
import { checkChangeRuns } from "./runs-view";
import { checkRendererLimit, checkTry } from "./settings-view";
import { checkPointedFolder, checkTakeInBody } from "./take-in";
import type { Checker } from "./validate";

export const OPERATION_BODIES: Readonly<Record<string, Readonly<Record<string, Checker<unknown>>>>> = {
  "POST /api/movie-presets": { checkMoviePreset },
  "POST /api/nodes/[name]": { checkNodeSettings },
  "POST /api/nodes/[name]/aside": { checkSetAside },
  "POST /api/nodes/invitations": { checkInvite },
  "POST /api/pause": { checkPause },
  "POST /api/people": { checkNewPerson },
  "PATCH /api/people/[id]": { checkChangePerson },
  "POST /api/presets": { checkSavePreset },
  "POST /api/presets/[id]": { checkRenamePreset },
  "POST /api/presets/import": { checkImportPreset },
  "POST /api/projects": { checkNewProject },
  "PATCH /api/projects/[project]": { checkChangeProject },
  "POST /api/projects/[project]/edits": { checkImportEdit },
  "POST /api/projects/[project]/handovers": { checkWish },
  "POST /api/projects/[project]/handovers/outlook": { checkWish },
  "POST /api/projects/[project]/shots": { checkBringInShots },
  "PATCH /api/projects/[project]/shots/[code]": { checkChangeShot },
  "POST /api/projects/[project]/shots/[code]/copies": { checkCopyShot },
  "POST /api/projects/[project]/shots/[code]/plan": { checkSavePlan },
  "POST /api/projects/[project]/shots/[code]/versions": { checkOpenVersion },
  "POST /api/projects/[project]/shots/edit": { checkBringInEdit },
  "POST /api/projects/[project]/shots/list": { checkBringInList },
  "POST /api/projects/[project]/take-in": { checkTakeInBody },
  "POST /api/projects/[project]/take-in/look": { checkPointedFolder },
  "POST /api/rebuild": { checkPointedFolder },
  "POST /api/renderers/[name]/limit": { checkRendererLimit },
  "POST /api/runs": { checkChangeRuns },
  "POST /api/runs/[id]/change": { checkChangeRun },
  "POST /api/runs/[id]/hand-out/take-back": { checkTakeBack },
  "POST /api/runs/[id]/put-back": { checkPutBack },
  "POST /api/runs/[id]/cluster": { checkSendRun },
  "POST /api/runs/[id]/stop": { checkStopRun },
  "POST /api/sequences/[id]/discards": { checkDiscard },
  "DELETE /api/sequences/[id]/flags": { checkClearFlag },
  "POST /api/sequences/[id]/flags": { checkFlag },
  "POST /api/sequences/[id]/handovers": { checkWish },
  "POST /api/sequences/[id]/handovers/outlook": { checkWish },
  "DELETE /api/sequences/[id]/leftovers": { checkStartRun },
  "POST /api/sequences/[id]/log-facts": { checkLogFacts },
  "POST /api/sequences/[id]/odd/judge": { checkJudge },
  "POST /api/sequences/[id]/odd/thresholds": { checkThresholds },
  "POST /api/sequences/[id]/preflight": { checkStartRun },
  "POST /api/sequences/[id]/proofs": { checkStartProofs },
  "POST /api/sequences/[id]/replaced": { checkReplaced },
  "POST /api/sequences/[id]/runs": { checkStartRun },
  "POST /api/settings/tries": { checkTry },
  "POST /api/sign-in": { checkSignIn },
  "POST /api/versions/[id]/status": { checkDecideVersion },
};
