/** A file's bytes as text: by its mark, else UTF-8, else the letters that western machines wrote before it. */
export function readText(bytes: Uint8Array): string {
  const [a, b] = bytes;
  if (a === 0xff && b === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  if (a === 0xfe && b === 0xff) return new TextDecoder('utf-16be').decode(bytes);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('windows-1252').decode(bytes);
  }
}

const LANGUAGES: Record<string, string> = {
  c: 'c',
  cpp: 'cpp',
  cs: 'csharp',
  css: 'css',
  go: 'go',
  h: 'c',
  html: 'xml',
  java: 'java',
  js: 'javascript',
  json: 'json',
  kt: 'kotlin',
  m: 'matlab',
  php: 'php',
  py: 'python',
  r: 'r',
  rb: 'ruby',
  rs: 'rust',
  sh: 'bash',
  sql: 'sql',
  swift: 'swift',
  ts: 'typescript',
  xml: 'xml',
  yaml: 'yaml',
  yml: 'yaml',
};

/** In which language a file of this name is code; null: it is none that is known. */
export const codeLanguage = (name: string): string | null => {
  const ending = /\.([a-z0-9]+)$/i.exec(name)?.[1]?.toLowerCase() ?? '';
  return Object.hasOwn(LANGUAGES, ending) ? LANGUAGES[ending]! : null;
};
