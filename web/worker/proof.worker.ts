/// <reference lib="webworker" />
import { findProof } from '@contract/wire/sign-in-proof';

addEventListener('message', ({ data }: MessageEvent<{ seed: Uint8Array; bits: number }>) =>
  postMessage(findProof(data.seed, data.bits)),
);
