// The certificate that a house shows beyond its machine: made once, by itself, and known by its fingerprint. Nobody vouches for
// it: an invitation brings the fingerprint, and a machine that has joined takes this certificate and no other.
import { X509Certificate } from "node:crypto";
import fs from "node:fs";
import path from "node:path";

/** It lives as long as the house: a new one would part it from every machine that has joined. */
const YEARS = 30;
const YEAR_MS = 365 * 24 * 3_600_000;

/**
 * @param {string} folder where it is kept, or made
 * @returns {Promise<{ certificate: string, key: string }>} its files
 */
export async function ensureCertificate(folder) {
  const certificate = path.join(folder, "house.crt");
  const key = path.join(folder, "house.key");
  if (fs.existsSync(certificate) && fs.existsSync(key)) return { certificate, key };
  // Only now: a bare checkout has no packages when this file is loaded.
  const { default: selfsigned } = await import("selfsigned");
  const made = await selfsigned.generate([{ name: "commonName", value: "Plain Tally house" }], {
    keyType: "ec",
    curve: "P-256",
    algorithm: "sha256",
    notAfterDate: new Date(Date.now() + YEARS * YEAR_MS),
  });
  fs.mkdirSync(folder, { recursive: true, mode: 0o700 });
  // The certificate last: with it the pair is whole.
  fs.writeFileSync(key, made.private, { mode: 0o600 });
  fs.writeFileSync(certificate, made.cert, { mode: 0o600 });
  return { certificate, key };
}

/** As browsers show it, for whoever compares. @param {string} file */
export const fingerprint = (file) => new X509Certificate(fs.readFileSync(file)).fingerprint256;
