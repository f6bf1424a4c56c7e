/** Faults of what is beyond one machine: invitations, joining, and other versions of the program. */
import { conflict, house, unknown, wrong } from "./fault-kinds";

const RELEASES = "Install the same one on both";

export const NETWORK_FAULTS = {
  "sign-in-needed": {
    ...conflict("Sign in first: somebody else could read and change this otherwise."),
    status: 401,
  },
  "sign-in-wrong": { ...conflict("Name and key do not belong together."), status: 401 },
  "sign-in-slow": {
    ...conflict<{ minutes: number }>(
      ({ minutes }) => `There were too many wrong tries: wait ${minutes} min, and try again.`,
    ),
    status: 429,
  },
  "role-short": {
    ...conflict<{ role: string; needs: string }>(
      ({ role, needs }) =>
        `You may ${role} here; this takes somebody who may ${needs}. Whoever keeps the house can change that.`,
    ),
    status: 403,
  },
  "too-many-requests": {
    ...conflict("This asks for more than the house can give at once; wait a moment."),
    status: 429,
  },
  "too-many-streams": {
    ...conflict("Too many pages listen for news; this one looks again by itself."),
    status: 503,
  },
  "too-many-downloads": {
    ...conflict("As many files as can go out at once are on their way; try again in a moment."),
    status: 503,
  },
  "person-taken": conflict<{ name: string }>(({ name }) => `There is somebody named ${name} already.`),
  "person-unknown": unknown("There is no such person any more."),
  "person-last-keeper": conflict<{ name: string }>(
    ({ name }) => `${name} is the only one who keeps the house: let somebody else do that first.`,
  ),
  "not-listening": conflict(
    "Nothing here can be reached by other machines: start with --listen ADDRESS, where ADDRESS is what they know this one by.",
  ),
  "invited-already": conflict<{ name: string }>(
    ({ name }) =>
      `${name} is invited already. Invited again it gets another key, and what works with the first one is turned out: ask for that, or choose another name.`,
  ),
  "invitation-unknown": unknown<{ name: string }>(({ name }) => `Nobody invited a node named ${name}.`),
  "accounts-refused": house<{ why: string }>(
    ({ why }) =>
      `The database's user may not make accounts for nodes (${why}). The database that \`plain-tally start\` brings up may; in your own, give nodes an account yourself.`,
  ),
  "root-unwritable": conflict<{ root: string; folder: string; why: string }>(
    ({ root, folder, why }) =>
      `The file that proves the share cannot be put into ${folder}, the root ${root} (${why}).`,
  ),
  "invitation-broken": wrong<{ why: string }>(
    ({ why }) => `This is no whole invitation: it ${why}. Copy all of what plain-tally invite has printed.`,
  ),
  "join-no-answer": house<{ at: string; why: string }>(
    ({ at, why }) =>
      `The house does not answer at ${at} (${why}). It must run with --listen, and no firewall may lie between.`,
  ),
  "join-other-house": house<{ at: string }>(
    ({ at }) =>
      `What answers at ${at} is not the house that wrote this invitation: its certificate is another. Nothing was told to it.`,
  ),
  "join-refused": house<{ name: string }>(
    ({ name }) =>
      `The key of ${name} is good no more: it was revoked, or ${name} was invited again. Ask for a new invitation.`,
  ),
  "key-revoked": house<{ name: string }>(
    ({ name }) =>
      `The key of ${name} was revoked: it ends here, and its frames go to others. Who needs it again invites it again.`,
  ),
  "other-version": conflict<{ name: string; here: string; house: string }>(
    ({ name, here, house: theirs }) =>
      `${name} has Plain Tally ${here}, and the house runs ${theirs}. ${RELEASES}.`,
  ),
  "join-root-unsaid": wrong<{ root: string }>(
    ({ root }) => `Say where the root ${root} lies on this machine: --root ${root}=/folder.`,
  ),
  "join-root-unseen": conflict<{ root: string; folder: string; why: string }>(
    ({ root, folder, why }) =>
      `${folder} is not the root ${root} of the house: ${why}. Mount the share, or say --root ${root}=/folder.`,
  ),
} as const;
