import { sha256 } from '@noble/hashes/sha2.js';
import { utf8ToBytes } from '@noble/hashes/utils.js';

/**
 * A proof of work: a number such that a hash over what is sent and it begins with so many zero bits. It stands over one
 * name and one password, so that each guess costs its own. The package needs no secure context, as WebCrypto would.
 */
export const proofSeed = (challenge: string, login: string, password: string): Uint8Array =>
  sha256(utf8ToBytes(JSON.stringify([challenge, login.trim().toLowerCase(), password])));

export function isProof(seed: Uint8Array, nonce: number, bits: number): boolean {
  const block = new Uint8Array(seed.length + 8);
  block.set(seed);
  new DataView(block.buffer).setFloat64(seed.length, nonce);
  const hash = new DataView(sha256(block).buffer);
  return Math.clz32(hash.getUint32(0)) >= Math.min(bits, 32);
}

/** The first number that is a proof: about 2^bits hashes on average. */
export function findProof(seed: Uint8Array, bits: number): number {
  let nonce = 0;
  while (!isProof(seed, nonce, bits)) nonce++;
  return nonce;
}
