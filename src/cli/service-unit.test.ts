import { spawnSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { unitName, unitText } from "./service-unit";

const OF = {
  node: null,
  program: process.execPath,
  command: "/opt/plain tally/50% $HOME/bin/plain-tally.mjs",
  options: [],
  user: "mara",
  environment: { PLAIN_TALLY_PLACE: '/srv/a "place"' },
};

test("the house begins with the machine, is told first and comes back; a node begins behind it", () => {
  const house = unitText(OF);
  expect(house).toContain("User=mara\n");
  expect(house).toContain("WantedBy=multi-user.target");
  expect(house).toContain("KillMode=mixed");
  expect(house).toContain('"start" "--no-node"');
  const node = unitText({ ...OF, node: "quay-1", user: null });
  expect(node).toContain("After=network-online.target remote-fs.target plain-tally.service");
  expect(node).toContain('"node" "--name" "quay-1"');
  expect(node).not.toContain("User=");
  expect(node).toContain("WantedBy=default.target");
  expect([unitName(null), unitName("quay-1")]).toEqual([
    "plain-tally.service",
    "plain-tally-node-quay-1.service",
  ]);
});

test("what the manager would replace or part stays as it is", () => {
  expect(unitText(OF)).toContain('"/opt/plain tally/50%% $$HOME/bin/plain-tally.mjs"');
  expect(unitText(OF)).toContain('Environment="PLAIN_TALLY_PLACE=/srv/a \\"place\\""');
});

const hasAnalyze = spawnSync("systemd-analyze", ["--version"]).status === 0;
(hasAnalyze ? test : test.skip)("systemd itself has nothing against them (where it is installed)", () => {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "plain-tally-unit-"));
  try {
    for (const node of [null, "quay-1"]) {
      const file = path.join(folder, unitName(node));
      fs.writeFileSync(file, unitText({ ...OF, node, user: "root" }));
      const { stdout, stderr } = spawnSync("systemd-analyze", ["verify", file], { encoding: "utf8" });
      expect(`${stdout}${stderr}`.split("\n").filter((line) => line.includes("plain-tally"))).toEqual([]);
    }
    const broken = path.join(folder, "plain-tally-broken.service");
    fs.writeFileSync(broken, unitText(OF).replace("KillMode=mixed", "KillMode=gently"));
    expect(spawnSync("systemd-analyze", ["verify", broken], { encoding: "utf8" }).stderr).toContain("gently");
  } finally {
    fs.rmSync(folder, { recursive: true });
  }
});
