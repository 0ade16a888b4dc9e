import { FILE_KIND_WORDS, kindByName, kindOfFile } from '@core/work/file-kinds';
import { inDecimals } from './locale';

/** "2.1 MB", "340 kB", "12 bytes": bytes as people read them. */
export function sizeOf(bytes: number): string {
  if (bytes < 1_000) return bytes === 1 ? '1 byte' : `${bytes} bytes`;
  if (bytes < 1_000_000) return `${Math.ceil(bytes / 1_000)} kB`;
  const large = bytes >= 1_000_000_000;
  return `${inDecimals((bytes / (large ? 1e9 : 1e6)).toFixed(1))} ${large ? 'GB' : 'MB'}`;
}

/** What a file is: by its content once that is known, before that by its name. */
export function kindWords(file: { name: string; mediaType: string | null; sha256: string | null }): string {
  const kind = file.sha256 === null ? kindByName(file.name) : kindOfFile(file.name, file.mediaType);
  return kind ? FILE_KIND_WORDS[kind].one.replace(/^an? /, '') : 'a file';
}

/** A hash as people compare it: its beginning and its end. */
export const shortHash = (sha256: string): string =>
  `${sha256.slice(0, 4)} ${sha256.slice(4, 8)} … ${sha256.slice(-4)}`;
