/**
 * Keys of people: made here, told once, kept as scrypt (RFC 7914) with its parameters and a salt of its own. Each try costs time
 * and memory, so that few are worked out at once.
 */
import crypto from "node:crypto";
import { promisify } from "node:util";
import pLimit from "p-limit";

const scrypt = promisify<string, Buffer, number, crypto.ScryptOptions, Buffer>(crypto.scrypt);

/** 32 MB and about a tenth of a second each, here. */
const COST = { N: 32_768, r: 8, p: 1 } as const;
const MOST_MEMORY = 64 * 1024 * 1024;
const SALT_BYTES = 16;
const HASH_BYTES = 32;
/** However many try to sign in: the other core renders. */
const oneByOne = pLimit(1);

/** Crockford's base 32: nothing in it is read as something else. */
const SIGNS = "0123456789abcdefghjkmnpqrstvwxyz";
const GROUPS = 4;
const GROUP_SIGNS = 5;

/** 100 bits, in groups that can be read out: `k7m2p-0qv3x-…`. */
export const makeKey = (): string =>
  Array.from({ length: GROUPS }, () =>
    Array.from({ length: GROUP_SIGNS }, () => SIGNS[crypto.randomInt(SIGNS.length)]).join(""),
  ).join("-");

const hashed = (
  key: string,
  salt: Buffer,
  { N, r, p }: { N: number; r: number; p: number },
): Promise<Buffer> => oneByOne(() => scrypt(key, salt, HASH_BYTES, { N, r, p, maxmem: MOST_MEMORY }));

/** As it is kept: `scrypt$N$r$p$salt$hash`. */
export async function hashKey(key: string): Promise<string> {
  const salt = crypto.randomBytes(SALT_BYTES);
  const hash = await hashed(key, salt, COST);
  return ["scrypt", COST.N, COST.r, COST.p, salt.toString("base64url"), hash.toString("base64url")].join("$");
}

/** Of nobody: what a wrong name costs, so that names cannot be told by the time of the answer. */
const NOBODYS = `scrypt$${COST.N}$${COST.r}$${COST.p}$AAAAAAAAAAAAAAAAAAAAAA$${"A".repeat(43)}`;

/** @param kept null: nobody has that name, which takes as long */
export async function isKeyOf(key: string, kept: string | null): Promise<boolean> {
  const [, N, r, p, salt = "", hash = ""] = (kept ?? NOBODYS).split("$");
  const expected = Buffer.from(hash, "base64url");
  const found = await hashed(key, Buffer.from(salt, "base64url"), {
    N: Number(N),
    r: Number(r),
    p: Number(p),
  });
  return crypto.timingSafeEqual(found, expected) && kept !== null;
}
