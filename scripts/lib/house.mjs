// The processes of one checkout: its private database, its server and its nodes, started together and ended
// together.
import { spawn } from "node:child_process";
import fs from "node:fs";
import net from "node:net";
import path from "node:path";
import { setTimeout as pause } from "node:timers/promises";
import { ensurePrograms, ensurePackages, FFMPEG, MARIADB, offerPrograms, requireNode } from "./prepare.mjs";
import { identityOf, isRunning } from "./process-identity.mjs";
import { run, step, Stop } from "./steps.mjs";

export const DEFAULT_PORT = 4310;
const READY_SECONDS = 120;
const RESTART_MS = 6_000;
const KILL_AFTER_MS = 8_000;
/** A database that dies is started again, but not for ever: something is wrong with it then. */
const MOST_DEATHS = 5;
const DEATHS_WITHIN_MS = 60_000;

/** @param {string | undefined} text */
export function readPort(text) {
  const port = text === undefined ? DEFAULT_PORT : Number(text);
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new Stop(`--port must be a number from 1 to 65535; it is "${text}".`);
  return port;
}

/** Installed from an archive: built, and with its data elsewhere. @param {string} home */
export const isPacked = (home) => fs.existsSync(path.join(home, "packed.json"));

/** How a person calls the command. @param {string} home */
export const cli = (home) => (isPacked(home) ? "plain-tally" : "npx plain-tally");

/** How a person starts it, with options. @param {string} home @param {string} script @param {string} options */
export function commandOf(home, script, options = "") {
  if (isPacked(home)) return `plain-tally ${script}${options === "" ? "" : ` ${options}`}`;
  const command = script === "start" ? "npm start" : `npm run ${script}`;
  return options === "" ? command : `${command} -- ${options}`;
}

/**
 * Where database, logs and frames of this checkout lie: beside it, or where its configuration says. What is wrong
 * with the file is told by the program itself, with its place. @param {string} home
 */
export function dataFolder(home) {
  // As `server/configuration.ts` has it: where what is kept lies, if not in a checkout.
  const place = process.env.PLAIN_TALLY_PLACE;
  const file = process.env.PLAIN_TALLY_CONFIG ?? path.join(place ?? home, "plain-tally.config.json");
  try {
    const { data } = JSON.parse(fs.readFileSync(file, "utf8"));
    if (typeof data === "string" && path.isAbsolute(data)) return data;
  } catch {
    // There is none, or it is told later.
  }
  return place ?? path.join(home, "var");
}

/** @param {number} port @param {string} address @param {string} command that is proposed */
function requireFreePort(port, address, command) {
  return new Promise((resolve, reject) => {
    const server = net.createServer();
    server.on("error", (error) =>
      reject(
        new Stop(
          error.code === "EADDRINUSE"
            ? `Port ${port} is taken by another program. Choose another: ${command}`
            : error.code === "EADDRNOTAVAIL"
              ? `${address} is no address of this machine.`
              : `Port ${port} cannot be used: ${error.message}`,
        ),
      ),
    );
    server.listen(port, address, () => server.close(() => resolve(undefined)));
  });
}

export class House {
  /** @param {string} home @param {"demo" | "dev" | "start"} script the one that started it */
  constructor(home, script) {
    this.home = home;
    this.script = script;
    this.data = dataFolder(home);
    this.stateFile = path.join(this.data, "run/state.json");
    this.children = new Map();
    this.stopping = false;
    /** Only what this process wrote is removed at its end: another one of this checkout may run. */
    this.ownsState = false;
    /** @type {Awaited<ReturnType<typeof import("./mariadb.mjs").startMariadb>> | null} */
    this.database = null;
    /** Where others reach the database; null: nowhere. @type {{ address: string, port: number, certificate: string, key:
     * string } | null} */
    this.listen = null;
    /** Files of the certificate that it shows beyond this machine. @type {{ certificate: string, key: string } | null} */
    this.certificate = null;
    /** Where others reach the pages; null: nowhere. @type {{ host: string, port: number, behind: number, hosts: string[] } |
     * null} */
    this.front = null;
    /** @type {import("node:tls").Server | null} */
    this.door = null;
    this.address = "";
    /** When the database ended by itself, lately. @type {number[]} */
    this.deaths = [];
  }

  /** What an earlier start wrote down; null where there is nothing, or nothing that can be read. */
  readState() {
    let text;
    try {
      text = fs.readFileSync(this.stateFile, "utf8");
    } catch (error) {
      if (error.code === "ENOENT") return null;
      throw new Stop(`${this.stateFile} cannot be read (${error.code}).`);
    }
    try {
      const state = JSON.parse(text);
      if (typeof state === "object" && state !== null && Array.isArray(state.processes)) return state;
    } catch {
      // As one of another shape.
    }
    const aside = `${this.stateFile}.broken`;
    fs.renameSync(this.stateFile, aside);
    step(
      `${path.relative(this.home, this.stateFile)} cannot be understood and is put aside as ${path.basename(aside)}: what an earlier start left may still run, and would have to be ended by hand`,
    );
    return null;
  }

  /**
   * What runs of this checkout is left alone; what a killed start left behind is ended first. A process is what
   * it was by its start and its program, never by its number alone.
   */
  async settleEarlier() {
    const state = this.readState();
    if (state === null) return;
    if (isRunning(state.starter))
      throw new Stop(
        `${isPacked(this.home) ? "It" : "This checkout"} runs already, at ${state.address} (process ${state.starter.pid}).`,
      );
    const left = state.processes.filter(isRunning);
    for (const { pid } of left) process.kill(pid, "SIGTERM");
    for (let i = 0; i < 100 && left.some(isRunning); i++) await pause(100);
    fs.rmSync(this.stateFile);
  }

  /**
   * What is asked and installed before anything is built or started.
   * @param {number} port @param {{ listen?: string | null, host?: string | null }} [beyond] as for `open`
   */
  async prepare(port, { listen = null, host = null } = {}) {
    requireNode();
    await this.settleEarlier();
    const other = commandOf(this.home, this.script, `--port ${port + (listen === null ? 1 : 2)}`);
    await requireFreePort(port, host ?? "127.0.0.1", other);
    if (listen !== null) await requireFreePort(port + 1, listen, other);
    await ensurePrograms(MARIADB);
    await offerPrograms(FFMPEG, "Making movies");
    if (!isPacked(this.home)) await ensurePackages(this.home);
  }

  /**
   * Database and environment.
   * @param {number} port @param {{ listen?: string | null, host?: string | null }} [beyond] addresses of this machine at which
   * others may reach the database, and the pages
   */
  async open(port, { listen = null, host = null } = {}) {
    for (const place of ["run", "log", "frames"])
      fs.mkdirSync(path.join(this.data, place), { recursive: true });
    step("Starting the private database");
    const { startMariadb } = await import("./mariadb.mjs");
    if (listen !== null || host !== null) {
      const { ensureCertificate } = await import("./certificate.mjs");
      this.certificate = await ensureCertificate(path.join(this.data, "tls"));
      // Beside the pages: machines that have joined know the port.
      if (listen !== null) this.listen = { address: listen, port: port + 1, ...this.certificate };
    }
    this.database = await startMariadb(path.join(this.data, "mariadb"), this.databaseOptions());
    this.database.whenItDies(() => void this.reviveDatabase());
    this.address = `http://127.0.0.1:${port}`;
    if (host !== null) {
      const [{ freePort }, { hostsOf }] = await Promise.all([
        import("./mariadb.mjs"),
        import("./tls-front.mjs"),
      ]);
      this.front = { host, port, behind: await freePort(), hosts: hostsOf(host, port) };
      this.address = `https://${this.front.hosts[0]}`;
    }
    this.env = {
      PLAIN_TALLY_HOME: this.home,
      PLAIN_TALLY_DATABASE_URL: this.database.url,
      // That it is there is what locks the pages: nobody comes in without a key.
      ...(this.front === null ? {} : { PLAIN_TALLY_HOSTS: this.front.hosts.join(",") }),
    };
  }

  /** How the database listens. */
  databaseOptions() {
    const { listen } = this;
    return listen === null ? {} : { port: listen.port, listen };
  }

  /** On its own port again: server and nodes wait for it, and go on by themselves. */
  async reviveDatabase() {
    if (this.stopping) return;
    const now = Date.now();
    this.deaths = [...this.deaths.filter((at) => now - at < DEATHS_WITHIN_MS), now];
    if (this.deaths.length > MOST_DEATHS)
      return void this.stopAll(
        `The database ends again and again (see ${path.join(this.data, "mariadb/mariadb.log")})`,
      );
    step("The database ended by itself; it is started again");
    try {
      const { startMariadb } = await import("./mariadb.mjs");
      const { port } = this.database;
      const database = await startMariadb(path.join(this.data, "mariadb"), {
        ...this.databaseOptions(),
        port,
      });
      // Asked to end meanwhile: then there is nothing to go on for.
      if (this.stopping) return void (await database.stop());
      this.database = database;
      database.whenItDies(() => void this.reviveDatabase());
      this.saveState();
      step("The database is back");
    } catch (error) {
      step(error.message);
      setTimeout(() => void this.reviveDatabase(), RESTART_MS).unref();
    }
  }

  /** Runs a program of this checkout to its end. @param {string[]} args */
  run(args) {
    return run(process.execPath, args, { cwd: this.home, env: this.env });
  }

  async migrate() {
    await this.run(["bin/plain-tally.mjs", "migrate"]);
    step("Database up to date");
  }

  /**
   * @param {string} name @param {string[]} args @param {Record<string, string>} env @param {(code: number |
   * null, signal: string | null) => void} onExit
   */
  start(name, args, env = {}, onExit = () => undefined) {
    const log = fs.openSync(path.join(this.data, `log/${name}.log`), "a");
    const child = spawn(process.execPath, args, {
      cwd: this.home,
      env: { ...process.env, ...this.env, ...env },
      detached: true,
      stdio: ["ignore", log, log],
    });
    fs.closeSync(log);
    this.children.set(name, child);
    child.on("exit", (code, signal) => {
      this.children.delete(name);
      if (!this.stopping) onExit(code, signal);
    });
    this.saveState();
    return child;
  }

  /** @param {"start" | "dev"} how @param {number} port */
  startPages(how, port) {
    const own = this.front?.behind ?? port;
    this.start(
      "server",
      isPacked(this.home)
        ? ["scripts/pages.mjs", "--host", "127.0.0.1", "--port", String(own)]
        : ["node_modules/next/dist/bin/next", how, "-H", "127.0.0.1", "-p", String(own)],
      {
        NODE_ENV: how === "start" ? "production" : "development",
        NEXT_TELEMETRY_DISABLED: "1",
      },
      () => void this.stopAll(`The server ended by itself (see ${this.logFile("server")})`),
    );
  }

  async pagesReady() {
    for (const deadline = Date.now() + READY_SECONDS * 1000; ; await pause(150)) {
      if (this.stopping) return;
      if (Date.now() > deadline) throw new Stop(`The server does not answer; see ${this.logFile("server")}.`);
      const own = this.front === null ? this.address : `http://127.0.0.1:${this.front.behind}`;
      if ((await fetch(`${own}/api/health`).catch(() => null))?.ok) return this.openFront();
    }
  }

  /** Where others may come in: only once there is something behind the door. */
  async openFront() {
    if (this.front === null) return;
    const { openTlsFront } = await import("./tls-front.mjs");
    this.door = await openTlsFront({ ...this.front, ...this.certificate });
  }

  /** What a program of this house says. @param {string} name */
  logFile(name) {
    return path.join(this.data, `log/${name}.log`);
  }

  /**
   * A node that ends comes back.
   * @param {string} name @param {string[]} faults of its first life only @param {string[]} options of each
   */
  startNode(name, faults = [], options = []) {
    this.start(
      `node-${name}`,
      ["bin/plain-tally.mjs", "node", "--name", name, ...options, ...faults],
      {},
      (code, signal) => {
        step(
          `${name} ended (${signal ?? code}); it comes back in ${RESTART_MS / 1000} s, its frame goes to another node`,
        );
        setTimeout(() => {
          if (!this.stopping) this.startNode(name, [], options);
        }, RESTART_MS);
      },
    );
  }

  /** Ends a child and starts it anew. @param {string} name of the child @param {() => void} begin */
  async restart(name, begin) {
    const child = this.children.get(name);
    if (child !== undefined) {
      child.removeAllListeners("exit");
      this.children.delete(name);
      const over = new Promise((resolve) => child.once("exit", resolve));
      child.kill("SIGTERM");
      await over;
    }
    if (!this.stopping) begin();
  }

  /** Renamed into place: other processes read it at any moment. */
  saveState() {
    const state = {
      starter: identityOf(process.pid),
      address: this.address,
      databaseUrl: this.database.url,
      listen: this.listen,
      processes: [this.database.pid, ...[...this.children.values()].map((c) => c.pid)]
        .map(identityOf)
        .filter((process) => process !== null),
    };
    fs.writeFileSync(`${this.stateFile}.new`, JSON.stringify(state), { mode: 0o600 });
    fs.renameSync(`${this.stateFile}.new`, this.stateFile);
    this.ownsState = true;
  }

  /** @param {string} reason */
  async stopAll(reason) {
    if (this.stopping) return;
    this.stopping = true;
    if (this.children.size === 0 && this.database === null) return;
    step(`${reason}; ending nodes, server and database`);
    this.door?.close();
    const ends = [...this.children.values()].map(
      (child) => new Promise((resolve) => child.once("exit", resolve)),
    );
    for (const child of this.children.values()) child.kill("SIGTERM");
    const late = setTimeout(() => {
      for (const child of this.children.values()) child.kill("SIGKILL");
    }, KILL_AFTER_MS);
    await Promise.all(ends);
    clearTimeout(late);
    await this.database?.stop();
    if (this.ownsState) fs.rmSync(this.stateFile, { force: true });
    step("Ended.");
  }

  /** Runs `main`; a signal or a failure ends all of it. @param {() => Promise<void>} main */
  live(main) {
    for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"])
      process.on(signal, () => void this.stopAll("Stopping").then(() => process.exit(0)));
    main().catch(async (error) => {
      process.stderr.write(`\n${error instanceof Stop ? error.message : error.stack}\n`);
      await this.stopAll("Stopped");
      process.exit(1);
    });
  }
}
