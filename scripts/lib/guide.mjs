// The guide as the application shows it: docs/guide read once when it is built, cut into parts that can be led to.
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join, posix, relative } from 'node:path';
import { Stop } from './say.mjs';
import { root } from './stamps.mjs';

const SOURCE = join(root, 'docs/guide');
const TARGET = join(root, '.cache/guide/pages.json');

const files = (folder) =>
  readdirSync(folder, { withFileTypes: true }).flatMap((f) =>
    f.isDirectory() ? files(join(folder, f.name)) : f.name.endsWith('.md') ? [join(folder, f.name)] : [],
  );

/** "rules/lateness" of rules/lateness.md; "" of README.md. */
const pathOf = (file) => {
  const path = file.replace(/\.md$/, '');
  return path === 'README' ? '' : path;
};

const idOf = (title) =>
  title
    .toLowerCase()
    .normalize('NFD')
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '');

const textOf = (token) => (token.tokens ? token.tokens.map(textOf).join('') : (token.text ?? ''));

/** One page: { path, title, parts: [{ id, title, html, text }], links }. A part begins at a heading or at words in bold. */
export async function readGuidePage(file, markdown) {
  // Not before the packages are there.
  const { Marked } = await import('marked');
  const links = [];
  const marked = new Marked({
    renderer: {
      link({ href, tokens }) {
        const [to, part] = href.split('#');
        const path = to === '' ? pathOf(file) : pathOf(posix.join(posix.dirname(file), to));
        links.push({ path, part: part ?? '' });
        return `<a href="/guide${path ? `/${path}` : ''}${part ? `#${part}` : ''}">${this.parser.parseInline(tokens)}</a>`;
      },
    },
  });
  // Where an example's file is named, it is for those who test the guide.
  const tokens = marked.lexer(markdown.replace(/\s*\(example [\w-]+\)/g, ''));
  const page = { path: pathOf(file), title: '', parts: [], links };
  const begin = (title) => page.parts.push({ id: idOf(title), title, tokens: [] });
  for (const token of tokens) {
    if (token.type === 'space') continue;
    if (token.type === 'heading' && token.depth === 1) {
      page.title = textOf(token);
      continue;
    }
    const [first] = token.tokens ?? [];
    if (token.type === 'heading') {
      begin(textOf(token));
      continue;
    }
    if (token.type === 'paragraph' && first?.type === 'strong') begin(textOf(first).replace(/[.:]$/, ''));
    else if (page.parts.length === 0) begin('');
    page.parts.at(-1).tokens.push(token);
  }
  if (page.title === '') throw new Stop(`docs/guide/${file} has no title.`);
  const parts = page.parts.map(({ id, title, tokens: own }) => {
    const html = marked.parser(own);
    return { id, title, html, text: own.map(textOf).join(' ').replace(/\s+/g, ' ') };
  });
  return { ...page, parts };
}

/** Writes all pages where the application's build finds them. Refuses a link that leads nowhere in the guide. */
export async function buildGuide() {
  const pages = await Promise.all(
    files(SOURCE).map((f) => readGuidePage(relative(SOURCE, f), readFileSync(f, 'utf8'))),
  );
  pages.sort((a, b) => (a.path < b.path ? -1 : 1));
  const missing = pages.flatMap((p) =>
    p.links
      .filter(({ path, part }) => {
        const to = pages.find((q) => q.path === path);
        return !to || (part !== '' && !to.parts.some((x) => x.id === part));
      })
      .map(({ path, part }) => `${p.path || 'README'} → ${path}${part ? `#${part}` : ''}`),
  );
  if (missing.length > 0) throw new Stop(`The guide has links that lead nowhere: ${missing.join(', ')}.`);
  const text = JSON.stringify(pages.map(({ links: _links, ...page }) => page));
  mkdirSync(dirname(TARGET), { recursive: true });
  try {
    if (readFileSync(TARGET, 'utf8') === text) return;
  } catch (error) {
    if (error.code !== 'ENOENT') throw error;
  }
  writeFileSync(TARGET, text);
}
