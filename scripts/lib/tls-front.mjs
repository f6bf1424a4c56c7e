// The front door of the pages on a network: TLS with the house's certificate, and behind it the server on loopback, which sees
// the bytes as they are.
import fs from "node:fs";
import net from "node:net";
import os from "node:os";
import tls from "node:tls";

const MOST_CONNECTIONS = 500;
const HANDSHAKE_MS = 10_000;

/**
 * Names and addresses, with the port, that a browser may know the pages by.
 * @param {string} host an address of this machine, or 0.0.0.0 for all that it has @param {number} port
 */
export function hostsOf(host, port) {
  const addresses = Object.values(os.networkInterfaces())
    .flatMap((all) => all ?? [])
    .filter(({ family, internal }) => family === "IPv4" && !internal)
    .map(({ address }) => address);
  const own = os.hostname();
  const names = [host, own, `${own}.local`, own.split(".")[0]];
  return [...new Set([...(host === "0.0.0.0" ? addresses : []), ...names])].map((name) => `${name}:${port}`);
}

/**
 * @param {{ host: string, port: number, behind: number, certificate: string, key: string }} door `behind`: port of the server
 * on loopback
 * @returns {Promise<tls.Server>} once it listens
 */
export function openTlsFront({ host, port, behind, certificate, key }) {
  const server = tls.createServer(
    {
      cert: fs.readFileSync(certificate),
      key: fs.readFileSync(key),
      minVersion: "TLSv1.2",
      handshakeTimeout: HANDSHAKE_MS,
    },
    (socket) => {
      const inner = net.connect(behind, "127.0.0.1");
      // Either end takes the other along; what went wrong with one is told by the server, or by nobody.
      for (const [one, other] of [
        [socket, inner],
        [inner, socket],
      ]) {
        one.on("error", () => other.destroy());
        one.on("close", () => other.destroy());
        one.pipe(other);
      }
    },
  );
  server.maxConnections = MOST_CONNECTIONS;
  // A handshake that fails is nobody's that we know.
  server.on("tlsClientError", () => undefined);
  return new Promise((resolve, reject) => {
    server.once("error", reject);
    server.listen(port, host, () => resolve(server));
  });
}
