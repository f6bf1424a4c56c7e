/**
 * A house and two nodes, each in a network namespace of its own: all they share is a cable and a folder. The nodes join by the
 * line that the house prints; what goes over the cables is captured and read.
 */
import { type ChildProcess, execFileSync, spawn } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { type Machine, machineAt } from "../support/machine";
import { addLonePlace, canMakePlaces, intoPlace, joinPlaces, named, removePlace } from "../support/places";
import { writeScene } from "../support/scene";
import { until } from "../support/stage";
import { freePort } from "../../scripts/lib/mariadb.mjs";

const testInPlaces = canMakePlaces() ? test : test.skip;

const folder = fs.mkdtempSync(path.join(os.tmpdir(), "plain-tally-joined-"));
const frames = path.join(folder, "frames");
const started: ChildProcess[] = [];
const PLACES = [1, 2, 3] as const;

afterAll(async () => {
  for (const child of started) await ended(child);
  for (const index of PLACES) removePlace(named(index));
  fs.rmSync(folder, { recursive: true, force: true });
});

async function ended(child: ChildProcess): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return;
  const over = new Promise((resolve) => child.once("exit", resolve));
  child.kill("SIGTERM");
  await over;
}

/** What goes over an interface of a place from now on; settled when it listens. */
async function capture(place: string, at: string): Promise<{ read: () => Promise<Buffer> }> {
  const file = path.join(folder, `${at}.pcap`);
  const [program = "ip", ...rest] = [
    ...intoPlace(place),
    "tcpdump",
    "-i",
    at,
    "-s",
    "0",
    "-U",
    "-Z",
    "root",
    "-w",
    file,
    "tcp",
  ];
  const child = spawn(program, rest, { stdio: ["ignore", "ignore", "pipe"] });
  started.push(child);
  let said = "";
  child.stderr.on("data", (text: Buffer) => (said += text.toString()));
  await until(`${at} is listened to`, () => Promise.resolve(said.includes("listening on")));
  return {
    read: async () => {
      await ended(child);
      return fs.readFileSync(file);
    },
  };
}

testInPlaces(
  "two machines join over TLS, no name of a picture goes over the cable in clear, and a revoked key ends a node",
  async () => {
    const [house, ...far] = PLACES.map(addLonePlace) as [string, string, string];
    const cables = far.map((place, i) => joinPlaces(house, place, i + 4));
    fs.mkdirSync(frames);
    const port = await freePort();
    const server = machineAt(path.join(folder, "house"), intoPlace(house));
    const running = server.start([
      "start",
      "--no-node",
      "--listen",
      "0.0.0.0",
      "--port",
      String(port),
      "--root",
      `films=${frames}`,
    ]);
    started.push(running.process);
    await until("the house is up", () => {
      if (running.process.exitCode !== null) throw new Error(running.said());
      return Promise.resolve(running.said().includes("Plain Tally is at"));
    });
    const ask = async (...args: readonly string[]): Promise<string> => {
      const { code, stdout, stderr } = await server.cli(args);
      if (code !== 0) throw new Error(`${args.join(" ")}: ${stderr}`);
      return stdout;
    };
    await ask("project", "add", "far-film", "--root", "films");
    await writeScene(path.join(frames, "far-film"));
    await ask("shot", "add", "SECRETSHOT", "--scene", "scenes/test.json", "--frames", "1-12");
    await ask(
      "plan",
      "SECRETSHOT",
      ...["width=96", "height=54", "samples=8"].flatMap((set) => ["--set", set]),
    );

    const listening = await Promise.all(cables.map(({ cable }) => capture(house, cable)));
    const atHome = await capture(house, "lo");
    const machines: { machine: Machine; node: ReturnType<Machine["start"]>; name: string }[] = [];
    for (const [i, place] of far.entries()) {
      const name = `mole-${i + 1}`;
      // Each machine has the share under a path of its own.
      const mounted = path.join(folder, `mounted-${i}`);
      fs.symlinkSync(frames, mounted);
      const line = await ask(
        "invite",
        "--name",
        name,
        "--root",
        `films=${mounted}`,
        "--address",
        cables[i]!.near,
      );
      const machine = machineAt(path.join(folder, name), intoPlace(place));
      const [, word = ""] = /^plain-tally join (\S+)/.exec(line) ?? [];
      const node = machine.start(["join", word]);
      started.push(node.process);
      machines.push({ machine, node, name });
      await until(`${name} has joined`, () => {
        if (node.process.exitCode !== null) throw new Error(node.said());
        return Promise.resolve(node.said().includes("ready"));
      });
    }
    await ask("run", "SECRETSHOT", "--wait");
    const tally = JSON.parse(await ask("status", "SECRETSHOT", "--json")) as { todo: string };
    expect(tally.todo).toBe("");
    const folderOfFrames = path.join(frames, "far-film/SECRETSHOT/v001");
    const made = execFileSync("find", [folderOfFrames, "-name", "*.png", "-not", "-path", "*/.tally/*"], {
      encoding: "utf8",
    });
    expect(made.trim().split("\n")).toHaveLength(12);
    for (const { node, name } of machines)
      expect(node.said()).toMatch(new RegExp(`${name} SECRETSHOT \\d+: done`));

    // The same names are in clear where the house talks with itself: the capture would have shown them.
    const [inside, ...outside] = [
      await atHome.read(),
      ...(await Promise.all(listening.map((one) => one.read()))),
    ];
    for (const told of ["SECRETSHOT", "far-film", "SELECT"]) {
      expect(inside!.includes(told)).toBe(true);
      for (const bytes of outside) {
        expect(bytes.length).toBeGreaterThan(10_000);
        expect(bytes.includes(told)).toBe(false);
      }
    }

    const [first, second] = machines;
    const over = new Promise<number | null>((resolve) => first!.node.process.once("exit", resolve));
    await ask("revoke", "mole-1");
    expect(await over).toBe(3);
    expect(first!.node.said()).toContain("The key of mole-1 was revoked");
    expect(second!.node.process.exitCode).toBeNull();
    await ask("run", "SECRETSHOT", "1-4", "--policy", "all", "--wait");
    expect((await first!.machine.cli(["node"])).stderr).toContain("The key of mole-1 was revoked");
  },
);
