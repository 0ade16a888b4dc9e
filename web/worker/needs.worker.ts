/// <reference lib="webworker" />
import { needsFor, type NeedsQuestion } from './needs';

addEventListener('message', ({ data }: MessageEvent<NeedsQuestion>) => postMessage(needsFor(data)));
