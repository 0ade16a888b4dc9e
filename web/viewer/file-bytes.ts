import { Injectable } from '@angular/core';
import { LRUCache } from 'lru-cache';
import type { WorkFile } from './work-file';

/** Bytes of files that are kept at hand: those just seen and those that come next. */
const KEPT = 150_000_000;

/** The bytes of work files; asked for ahead they are there when they are wanted. */
@Injectable({ providedIn: 'root' })
export class FileBytes {
  private readonly kept = new LRUCache<string, Promise<Uint8Array>>({
    maxSize: KEPT,
    // A promise's bytes are known by the file that it was asked for.
    sizeCalculation: (_value, key) => Number(key.split(' ')[0]) + 1,
  });

  /** Each caller gets bytes of its own: a worker that is given them takes them away. */
  async of(file: WorkFile): Promise<Uint8Array<ArrayBuffer>> {
    return Uint8Array.from(await this.fetched(file));
  }

  private fetched(file: WorkFile): Promise<Uint8Array> {
    // Where it lies is part of the key: the same bytes of another are another's file.
    const key = `${file.bytes} ${file.address} ${file.sha256}`;
    const known = this.kept.get(key);
    if (known) return known;
    const asked = fetchBytes(`${file.address}?ahead`, file.name);
    this.kept.set(key, asked);
    asked.catch(() => this.kept.delete(key));
    return asked;
  }
}

async function fetchBytes(address: string, name: string): Promise<Uint8Array> {
  let response: Response;
  try {
    response = await fetch(address);
  } catch {
    throw new Error(`${name} could not be fetched: the server does not answer.`);
  }
  if (!response.ok) throw new Error(`${name} could not be fetched (${response.status}).`);
  return new Uint8Array(await response.arrayBuffer());
}
