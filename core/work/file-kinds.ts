/** What a file is, as people name it. A school says which of these it takes. */
export const FILE_KINDS = [
  'pdf',
  'photograph',
  'document',
  'sheet',
  'slides',
  'text',
  'code',
  'audio',
  'video',
  'archive',
] as const;
export type FileKind = (typeof FILE_KINDS)[number];

/** As it stands after "a" and as a set of them. */
export const FILE_KIND_WORDS: Record<FileKind, { one: string; many: string }> = {
  pdf: { one: 'a PDF', many: 'PDF' },
  photograph: { one: 'a photograph', many: 'photographs' },
  document: { one: 'a word-processor document', many: 'word-processor documents' },
  sheet: { one: 'a spreadsheet', many: 'spreadsheets' },
  slides: { one: 'slides', many: 'slides' },
  text: { one: 'plain text', many: 'plain text' },
  code: { one: 'code', many: 'code' },
  audio: { one: 'a recording', many: 'recordings' },
  video: { one: 'a film', many: 'films' },
  archive: { one: 'an archive', many: 'archives' },
};

const ENDINGS: Record<FileKind, readonly string[]> = {
  pdf: ['pdf'],
  photograph: ['jpg', 'jpeg', 'png', 'webp', 'heic', 'heif', 'gif', 'tif', 'tiff', 'bmp', 'avif'],
  document: ['docx', 'odt', 'doc', 'rtf'],
  sheet: ['xlsx', 'ods', 'xls', 'csv', 'tsv'],
  slides: ['pptx', 'odp', 'ppt'],
  text: ['txt', 'md', 'text', 'log', 'tex', 'bib'],
  code: ['py', 'js', 'ts', 'java', 'c', 'h', 'cpp', 'cs', 'r', 'rb', 'go', 'rs', 'php', 'sql', 'sh', 'm', 'jl', 'kt', 'swift', 'css', 'json', 'xml', 'yml', 'yaml', 'html', 'htm', 'svg', 'ipynb'], // prettier-ignore
  audio: ['mp3', 'm4a', 'ogg', 'oga', 'opus', 'wav', 'flac', 'aac'],
  video: ['mp4', 'mov', 'webm', 'mkv', 'avi', 'm4v'],
  archive: ['zip', '7z', 'tar', 'gz', 'tgz', 'rar'],
};
const BY_ENDING = new Map(FILE_KINDS.flatMap((kind) => ENDINGS[kind].map((ending) => [ending, kind] as const)));

/** The ending of a file's name, lower case, without its point; '' where it has none. */
export function endingOf(name: string): string {
  const at = name.lastIndexOf('.');
  return at <= 0 ? '' : name.slice(at + 1).toLowerCase();
}

/** What its name says that a file is; null: nothing that is known. */
export const kindByName = (name: string): FileKind | null => BY_ENDING.get(endingOf(name)) ?? null;

/** Media types whose kind their name does not begin with. */
const BY_TYPE: Record<string, FileKind> = {
  'application/pdf': 'pdf',
  'application/vnd.openxmlformats-officedocument.wordprocessingml.document': 'document',
  'application/vnd.oasis.opendocument.text': 'document',
  'application/rtf': 'document',
  'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet': 'sheet',
  'application/vnd.oasis.opendocument.spreadsheet': 'sheet',
  'application/vnd.openxmlformats-officedocument.presentationml.presentation': 'slides',
  'application/vnd.oasis.opendocument.presentation': 'slides',
  'application/xml': 'code',
  'application/json': 'code',
  'application/zip': 'archive',
  'application/gzip': 'archive',
  'application/x-7z-compressed': 'archive',
  'application/x-tar': 'archive',
  'application/vnd.rar': 'archive',
};

/** What a media type, told by the content, is; null: nothing that is known. */
export function kindByType(mediaType: string): FileKind | null {
  if (mediaType.startsWith('image/')) return 'photograph';
  if (mediaType.startsWith('audio/')) return 'audio';
  if (mediaType.startsWith('video/')) return 'video';
  if (mediaType.startsWith('text/')) return 'text';
  return BY_TYPE[mediaType] ?? null;
}

/** Kinds that a file may be called beside what its content says: containers hold several things. */
const ALSO: Partial<Record<FileKind, readonly FileKind[]>> = {
  code: ['text', 'photograph'],
  archive: ['document', 'sheet', 'slides'],
  audio: ['video'],
  video: ['audio'],
};
/** What is written as plain text and called otherwise. */
const TEXTUAL: readonly string[] = [...ENDINGS.text, ...ENDINGS.code, 'csv', 'tsv', 'rtf'];
/** An old word processor's, spreadsheet's or slides' file: their content looks alike. */
const OLD_OFFICE = 'application/x-cfb';

/** The kind under which a file is taken: what its content is, by the name where content can be several. Null: unknown. */
export function kindOfFile(name: string, mediaType: string | null): FileKind | null {
  const named = kindByName(name);
  if (mediaType === OLD_OFFICE) return named;
  const found = mediaType === null ? null : kindByType(mediaType);
  if (found === null) return null;
  if (named === null || named === found) return found;
  const fits = found === 'text' ? TEXTUAL.includes(endingOf(name)) : ALSO[found]?.includes(named);
  return fits ? named : found;
}

/** Whether a file is of a kind that is taken; where nothing is said, every kind is. */
export function isTaken(
  file: { name: string; mediaType: string | null },
  allowed: readonly FileKind[] | undefined,
): boolean {
  if (!allowed) return true;
  const kind = kindOfFile(file.name, file.mediaType);
  return kind !== null && allowed.includes(kind);
}

/** Signs that change the direction of what comes after them: a name can look as if it ended otherwise. */
const TURNS = /[\u202a-\u202e\u2066-\u2069]/;

/** What is odd about a file, in a sentence for its student; null: nothing. */
export function oddAboutFile(
  file: { name: string; bytes: number; mediaType: string | null; isBlankWorksheet?: boolean },
  allowed: readonly FileKind[] | undefined,
): string | null {
  const { name, bytes, mediaType } = file;
  if (bytes === 0) return `${name} is empty: there is nothing in it.`;
  if (file.isBlankWorksheet) return `${name} is the worksheet as it was given out: nothing in it was changed.`;
  const kind = kindOfFile(name, mediaType);
  const named = kindByName(name);
  if (!isTaken(file, allowed))
    return `${name} is ${kind ? FILE_KIND_WORDS[kind].one : 'nothing that can be told'}; taken here: ${allowed!.map((k) => FILE_KIND_WORDS[k].many).join(', ')}.`;
  if (TURNS.test(name))
    return `Hidden signs in its name turn the letters around: it ends in ${endingOf(name) ? `.${endingOf(name)}` : 'nothing'}.`;
  if (kind !== null && named !== null && named !== kind)
    return `${name} is called ${FILE_KIND_WORDS[named].one} and is ${FILE_KIND_WORDS[kind].one} inside. Look whether it is the right file.`;
  return null;
}
