import express, { type Express } from 'express';
import type { KeptMail, Mailbox } from './mailbox';
import { NO_FAULTS, type Faults, type Smtp } from './smtp';

const escaped = (text: string): string =>
  text.replace(/[&<>"']/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' })[c]!);

const STYLE = `
  body { font: 15px/1.45 system-ui, sans-serif; color: #14323a; background: #f4f6f2; margin: 0 auto; max-width: 860px; padding: 20px 16px; }
  h1 { font-size: 20px; } form.faults { display: flex; flex-wrap: wrap; gap: 8px 22px; align-items: center; padding: 12px 0; border-block: 1px solid #14323a; }
  article { background: #fff; border-bottom: 1px solid #d3ddd4; padding: 10px 14px; } p { margin: 2px 0; } .quiet { color: #5f6868; }
  pre { white-space: pre-wrap; overflow-wrap: anywhere; font: inherit; margin: 6px 0 0; } button { font: inherit; padding: 4px 12px; }
  input[type=number] { width: 4em; } input[type=text] { width: 18em; max-width: 100%; }`;

function mailHtml(m: KeptMail): string {
  return `<article><p><b>${escaped(m.subject)}</b></p>
    <p class="quiet">to ${escaped(m.to)} · ${escaped(m.at)} · ${escaped(m.messageId)}${m.times > 1 ? ` · came ${m.times} times` : ''}</p>
    <pre>${escaped(m.text)}</pre></article>`;
}

function pageHtml(mails: readonly KeptMail[], faults: Faults, words: string): string {
  const ticked = (on: boolean): string => (on ? ' checked' : '');
  return `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
    <title>The mail stand-in</title><style>${STYLE}</style>
    <h1>Mail that was sent: ${mails.length}</h1>
    <p class="quiet">No mail leaves this machine. What Last Tally sends comes in here.</p>
    <form class="faults" method="post" action="/faults">
      <label><input type="checkbox" name="down"${ticked(faults.down)}> is down</label>
      <label><input type="checkbox" name="silent"${ticked(faults.silent)}> takes it and answers nothing</label>
      <label>takes <input type="number" name="slow" min="0" max="120" value="${faults.slow}"> seconds over each</label>
      <label>refuses <input type="text" name="refuses" placeholder="somebody@…" value="${escaped(faults.refuses.join(' '))}"></label>
      <button>Have it so</button>
    </form>
    <form method="get" action="/"><p><label>with the words <input type="text" name="words" value="${escaped(words)}"></label> <button>Look</button></p></form>
    ${mails.slice(0, 200).map(mailHtml).join('') || '<p class="quiet">Nothing yet.</p>'}</html>`;
}

/** Faults as a form or a program says them; what is left out is not wrong. */
function faultsOf(body: Record<string, unknown>): Faults {
  const refuses = Array.isArray(body['refuses'])
    ? body['refuses'].map(String)
    : String(body['refuses'] ?? '').split(/[\s,]+/);
  return {
    ...NO_FAULTS,
    down: body['down'] === true || body['down'] === 'on',
    silent: body['silent'] === true || body['silent'] === 'on',
    slow: Math.min(120, Math.max(0, Number(body['slow'] ?? 0) || 0)),
    refuses: refuses.map((a) => a.trim().toLowerCase()).filter((a) => a !== ''),
  };
}

/** The page to read what was sent and to switch faults on; the same as JSON under /mails and /faults. */
export function mailPage(mailbox: Mailbox, smtp: Smtp): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(express.urlencoded({ extended: false }), express.json());
  app.get('/', (request, response) => {
    const words = String(request.query['words'] ?? '');
    response.type('html').send(pageHtml(mailbox.all(words), smtp.faults, words));
  });
  app.get('/mails', (request, response) => {
    response.json(mailbox.all(String(request.query['words'] ?? '')));
  });
  app.delete('/mails', (_request, response) => {
    mailbox.clear();
    response.json({ done: true });
  });
  app.post('/faults', async (request, response) => {
    await smtp.setFaults(faultsOf((request.body ?? {}) as Record<string, unknown>));
    if (request.is('json')) response.json(smtp.faults);
    else response.redirect(303, '/');
  });
  return app;
}
