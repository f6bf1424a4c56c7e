// A Slurm of our own on loopback, for tests and for a try at home: munge, a controller and several machines as processes
// of this one, in one folder, from Debian's packages. No service of the system is touched, and nothing is left running.
import { spawn } from "node:child_process";
import crypto from "node:crypto";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { setTimeout as pause } from "node:timers/promises";
import { freePort } from "./mariadb.mjs";
import { findProgram } from "./prepare.mjs";
import { run, Stop } from "./steps.mjs";

const START_SECONDS = 60;
/** Of a task that was told to end: as long as a node takes to save what it has. */
const KILL_WAIT_SECONDS = 25;

/**
 * @param {string} folder @param {readonly string[]} machines @param {{ ctld: number, machines: number[] }} ports
 * @param {number} memoryMb of each machine
 */
function settingsText(folder, machines, ports, memoryMb) {
  const host = os.hostname();
  const user = os.userInfo().username;
  return `# Written by scripts/lib/slurm.mjs.
ClusterName=plain-tally
SlurmctldHost=${host}(127.0.0.1)
SlurmctldPort=${ports.ctld}
AuthType=auth/munge
AuthInfo=socket=${path.join(folder, "munge.socket")}
SlurmUser=${user}
SlurmdUser=${user}
StateSaveLocation=${path.join(folder, "state")}
SlurmdSpoolDir=${path.join(folder, "spool")}/%n
SlurmctldPidFile=${path.join(folder, "slurmctld.pid")}
SlurmdPidFile=${path.join(folder, "slurmd-%n.pid")}
ProctrackType=proctrack/linuxproc
TaskPlugin=task/none
MpiDefault=none
SelectType=select/cons_tres
SelectTypeParameters=CR_Core_Memory
SchedulerParameters=bf_interval=3,sched_interval=5
PreemptType=preempt/partition_prio
PreemptMode=REQUEUE
ReturnToService=2
SlurmdTimeout=20
KillWait=${KILL_WAIT_SECONDS}
MaxArraySize=20001
MaxJobCount=50000
JobAcctGatherType=jobacct_gather/linux
JobAcctGatherFrequency=2
JobAcctGatherParams=OverMemoryKill
DefMemPerNode=256
${machines.map((name, i) => `NodeName=${name} NodeHostname=${host} NodeAddr=127.0.0.1 Port=${ports.machines[i]} CPUs=1 RealMemory=${memoryMb}`).join("\n")}
PartitionName=renders Nodes=ALL Default=YES MaxTime=INFINITE State=UP PriorityTier=1
PartitionName=urgent Nodes=ALL MaxTime=INFINITE State=UP PriorityTier=10
`;
}

/** @param {import("node:child_process").ChildProcess} child */
async function ended(child) {
  if (child.exitCode !== null || child.signalCode !== null) return;
  const over = new Promise((resolve) => child.once("exit", resolve));
  child.kill("SIGTERM");
  const late = setTimeout(() => child.kill("SIGKILL"), 10_000);
  await over;
  clearTimeout(late);
}

/**
 * Settles when all machines are idle.
 * @param {string} folder for settings, state and logs; it is made
 * @param {readonly string[]} machines names of those that are played
 * @returns {Promise<{ settings: string, end(): Promise<void>, ask(program: string, ...args: string[]): Promise<string>,
 * machine(name: string): import("node:child_process").ChildProcess }>} `ask`: runs one of its programs
 */
export async function startSlurm(folder, machines) {
  fs.mkdirSync(folder, { recursive: true, mode: 0o755 });
  for (const name of ["state", "spool", "log"]) fs.mkdirSync(path.join(folder, name), { recursive: true });
  const key = path.join(folder, "munge.key");
  if (!fs.existsSync(key)) fs.writeFileSync(key, crypto.randomBytes(1024), { mode: 0o600 });
  const ports = { ctld: await freePort(), machines: [] };
  for (const _ of machines) ports.machines.push(await freePort());
  const settings = path.join(folder, "slurm.conf");
  const memoryMb = Math.max(512, Math.floor(os.totalmem() / 2 ** 20 / 2 / machines.length));
  fs.writeFileSync(settings, settingsText(folder, machines, ports, memoryMb));
  const env = { ...process.env, SLURM_CONF: settings };
  /** @type {Map<string, import("node:child_process").ChildProcess>} */
  const children = new Map();
  const begin = (name, program, ...args) => {
    const log = fs.openSync(path.join(folder, "log", `${name}.log`), "a");
    const child = spawn(findProgram(program) ?? program, args, { env, stdio: ["ignore", log, log] });
    fs.closeSync(log);
    children.set(name, child);
    return child;
  };
  const ask = (program, ...args) =>
    run(findProgram(program) ?? program, args, { env: { SLURM_CONF: settings } });
  const end = async () => {
    // What is in work saves what it has: a task would go on for ever without its machine.
    await ask("scancel", "--me").catch(() => "");
    for (const deadline = Date.now() + 2 * KILL_WAIT_SECONDS * 1000; Date.now() < deadline; await pause(200))
      if ((await ask("squeue", "--me", "--noheader").catch(() => "")).trim() === "") break;
    // Machines first: a controller that is gone is waited for.
    for (const child of [...children.values()].reverse()) await ended(child);
  };
  try {
    begin(
      "munged",
      "munged",
      "--foreground",
      "--force",
      `--key-file=${key}`,
      `--socket=${path.join(folder, "munge.socket")}`,
      `--pid-file=${path.join(folder, "munge.pid")}`,
      `--seed-file=${path.join(folder, "munge.seed")}`,
    );
    begin("slurmctld", "slurmctld", "-D");
    for (const name of machines) begin(name, "slurmd", "-D", "-N", name);
    for (const deadline = Date.now() + START_SECONDS * 1000; ; await pause(200)) {
      const states = await ask("sinfo", "--noheader", "--Node", "--partition=renders", "--format=%T").catch(
        () => "",
      );
      if (
        states
          .trim()
          .split("\n")
          .filter((state) => state.trim() === "idle").length === machines.length
      )
        break;
      if (Date.now() > deadline)
        throw new Stop(
          `Slurm did not begin in ${START_SECONDS} s; what it said is in ${path.join(folder, "log")}.`,
        );
    }
  } catch (error) {
    await end();
    throw error;
  }
  return { settings, end, ask, machine: (name) => children.get(name) };
}
