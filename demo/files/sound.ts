/** A short recording as a WAV: one tone that swells and fades, `seconds` long. */
export function wav(tone: number, seconds: number): Buffer {
  const rate = 8_000;
  const samples = rate * seconds;
  const out = Buffer.alloc(44 + samples * 2);
  out.write('RIFF', 0, 'latin1');
  out.writeUInt32LE(36 + samples * 2, 4);
  out.write('WAVEfmt ', 8, 'latin1');
  out.writeUInt32LE(16, 16);
  out.writeUInt16LE(1, 20);
  out.writeUInt16LE(1, 22);
  out.writeUInt32LE(rate, 24);
  out.writeUInt32LE(rate * 2, 28);
  out.writeUInt16LE(2, 32);
  out.writeUInt16LE(16, 34);
  out.write('data', 36, 'latin1');
  out.writeUInt32LE(samples * 2, 40);
  for (let n = 0; n < samples; n++) {
    const loud = Math.sin((Math.PI * n) / samples);
    out.writeInt16LE(Math.round(9_000 * loud * Math.sin((2 * Math.PI * tone * n) / rate)), 44 + n * 2);
  }
  return out;
}
